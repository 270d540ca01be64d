import type { RecorderClient } from '@mellow/engine';
import { problem } from '../errors/problem';
import type { CurrentTake } from './currentTake';
import type { Heard } from './dueHeard';
import type { createKeeping } from '../hindsight/keeping';
import type { RecorderService } from './recorderService';
import { notPaused } from './refusals';

interface RollingNow {
  /** The take, while it rolls. */
  rolling(): CurrentTake | null;
  heard(): Heard | null;
  recorder(): RecorderClient | null;
  keeping: ReturnType<typeof createKeeping>;
}

/** What can be asked while a take rolls. */
export function createWhileRolling({
  rolling,
  heard,
  recorder,
  keeping,
}: RollingNow): Pick<RecorderService, 'rollingNow' | 'pause' | 'keep' | 'hold'> {
  function now(): { current: CurrentTake; told: Heard } | null {
    const [current, told] = [rolling(), heard()];
    return current && told?.live.takeId === current.take.id ? { current, told } : null;
  }
  return {
    rollingNow() {
      const found = now();
      if (!found) return null;
      const { current, told } = found;
      const runs = current.take.clock === 'real' && told.live.pausedS === null;
      const elapsedUs = told.live.elapsedUs + (runs ? told.sinceS * 1e6 : 0);
      return { takeId: current.take.id, elapsedUs, held: told.live.held };
    },
    pause(to) {
      const found = now();
      if (!found) throw problem('recorder-idle', 'Nothing rolls, so there is nothing to pause.');
      const { pausedS, cuts } = found.told.live;
      const on = to === 'turn' ? pausedS === null : to;
      const why = notPaused(found.current.take.kind, cuts.length);
      if (why && on) throw problem('bad-request', why);
      recorder()?.pause(on);
    },
    keep(keep) {
      const from = recorder();
      if (!from || !rolling()) throw problem('recorder-idle', 'Nothing rolls now. Nothing was kept.');
      return keeping.asked(keep.id, () => from.keep(keep));
    },
    hold(sound, open) {
      if (!rolling()) throw problem('recorder-idle', 'Nothing is rolling, so there is no sound to open or close.');
      recorder()?.hold(sound, open);
    },
  };
}
