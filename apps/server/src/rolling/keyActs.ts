import type { KeyAction } from '@mellow/model';
import { problem } from '../errors/problem';
import type { LiveHub } from '../program/liveHub';
import type { RecorderService } from '../recorder/recorderService';
import type { TakeService } from '../takes/takes';
import type { KeepNow } from './keepNow';
import type { MarkService } from './marks';

/** What keys do. */
export interface KeyActs {
  /** @throws a problem where it is refused */
  act(action: KeyAction, down: boolean): Promise<void>;
  close(): void;
}

export interface KeyActServices {
  recorder: RecorderService;
  marks: MarkService;
  takes: TakeService;
  keepNow: KeepNow;
  live: LiveHub;
  /** The setup that the key rolls; null: none is chosen. */
  setupId(): Promise<string | null>;
  /** Told what was refused when nobody waits for it any more. */
  told(error: unknown): void;
}

/** Nothing ends by a slip: the key that rolls has to be held so long to stop. */
const stopHoldMs = 500;

export function createKeyActs({ recorder, marks, takes, keepNow, live, setupId, told }: KeyActServices): KeyActs {
  let stopping: NodeJS.Timeout | null = null;

  async function act(action: KeyAction, down: boolean): Promise<void> {
    if (action === 'talk') return talk(down);
    if (action === 'roll') return roll(down);
    if (!down) return;
    if (action === 'pause') recorder.pause('turn');
    if (action === 'mark') await marks.add('');
    if (action === 'keep') await keepNow(null);
    if (action === 'window') live.setWindowHidden(!live.state().windowHidden);
  }

  /** A press rolls; held for half a second, it stops what rolls. */
  async function roll(down: boolean): Promise<void> {
    if (stopping) clearTimeout(stopping);
    stopping = null;
    if (!down) return;
    if (live.state().recorder === 'idle') {
      const id = await setupId();
      if (!id) throw problem('bad-request', 'The key rolls no setup yet. Choose one with the keys, under Roll.');
      await recorder.startTrial(id, null, 'full');
    } else stopping = setTimeout(stop, stopHoldMs);
  }

  function stop(): void {
    stopping = null;
    try {
      recorder.stop();
    } catch (error) {
      told(error);
    }
  }

  /** Every sound of the rolling take that is open only while held. */
  async function talk(open: boolean): Promise<void> {
    const rolling = recorder.rollingNow();
    if (!rolling) return;
    const { recipe } = await takes.get(rolling.takeId);
    for (const { id, opening } of recipe.sounds) if (opening === 'held') recorder.hold(id, open);
  }

  return {
    act,
    close: () => void (stopping && clearTimeout(stopping)),
  };
}
