import { capitalised, errorText } from '@mellow/core';
import { problem } from '../errors/problem';
import type { AppLog } from '../program/appLog';
import type { LiveHub } from '../program/liveHub';
import type { RecorderService } from '../recorder/recorderService';
import type { SetupService } from '../setups/setups';

/** A full take that begins in some seconds, whatever page is open by then. */
export interface RollSoon {
  /** Counts down anew; whatever was counted before is let be. @throws a problem where a take is made already */
  begin(setupId: string, inS: number, lengthS: number | null): Promise<void>;
  letBe(): void;
  close(): void;
}

export interface RollSoonServices {
  setups: Pick<SetupService, 'get'>;
  recorder: Pick<RecorderService, 'startTrial'>;
  live: LiveHub;
  log: AppLog;
}

export function createRollSoon({ setups, recorder, live, log }: RollSoonServices): RollSoon {
  let timer: NodeJS.Timeout | null = null;

  function letBe(): void {
    if (timer) clearInterval(timer);
    timer = null;
    if (live.state().rollsSoon) live.setRollsSoon(null);
  }

  // Whatever else begins a take has taken its place.
  const stop = live.listen((state) => {
    if (state.rollsSoon && state.recorder !== 'idle') letBe();
  });

  async function roll(setupId: string, lengthS: number | null): Promise<void> {
    try {
      await recorder.startTrial(setupId, lengthS, 'full');
    } catch (error) {
      const why = errorText(error);
      log.add('warn', `Nothing rolls after the countdown: ${why}`);
      live.notify('loss', 'Nothing rolls', capitalised(why), null);
    }
  }

  return {
    async begin(setupId, inS, lengthS) {
      await setups.get(setupId);
      if (live.state().recorder !== 'idle')
        throw problem('recorder-busy', 'A take is being made. Nothing was begun; count down when it has ended.');
      letBe();
      // By the clock, since a timer may be late: it is never longer than was said.
      const atMs = performance.now() + inS * 1000;
      const tell = (): void => {
        const leftS = Math.ceil((atMs - performance.now()) / 1000 - 0.05);
        if (leftS > 0) return live.setRollsSoon({ setupId, leftS });
        letBe();
        void roll(setupId, lengthS);
      };
      tell();
      timer = setInterval(tell, 1000);
    },
    letBe,
    close() {
      stop();
      letBe();
    },
  };
}
