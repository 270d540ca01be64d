import type { Control } from '../shared/control';

/** Threads that get on have all the time they need; after so long without any progress they are told to give up. */
const closingPatienceMs = 60_000;
const givingUpMs = 10_000;
/** A guest that gets on with its own file has all the time it needs, too; one that does not is waited for no longer. */
const guestPatienceMs = 2000;
/** Whether they get on is looked at so often. */
const lookMs = 500;

/**
 * Waits for the threads as long as anything gets on; when nothing does after a stop, they are told to give up.
 * @param gaveUp told once when they are
 */
export function endedInTime(done: Promise<string>, control: Control, gaveUp: () => void): Promise<string> {
  const figures = (): string =>
    [control.figure('drivenBytes'), control.figure('savedBytes'), control.get('encoded')].join();
  let before = '';
  let stillMs = 0;
  // One promise for the whole take: racing it anew every half second would keep something of each race until the end.
  return new Promise((resolve, reject) => {
    let timer: NodeJS.Timeout | undefined = undefined;
    const look = (): void => {
      const now = figures();
      stillMs = control.get('stop') === 0 || now !== before ? 0 : stillMs + lookMs;
      before = now;
      if (stillMs === closingPatienceMs) {
        gaveUp();
        control.set('failed', 1);
      }
      if (stillMs <= closingPatienceMs + givingUpMs) return;
      clearInterval(timer);
      reject(new Error('The recorder’s threads did not end; what is on the drive is rescued.'));
    };
    timer = setInterval(look, lookMs);
    done.finally(() => clearInterval(timer)).then(resolve, reject);
  });
}

/** Waits for guests that still write something of their own. @returns whether they have ended */
export function guestsInTime(done: Promise<void>, control: Control): Promise<boolean> {
  const figures = (): string => [control.get('keptSteps'), control.get('cameraPictures')].join();
  let before = '';
  let stillMs = -lookMs;
  return new Promise((resolve) => {
    const timer = setInterval(() => {
      const now = figures();
      stillMs = now === before ? stillMs + lookMs : 0;
      before = now;
      if (stillMs < guestPatienceMs) return;
      clearInterval(timer);
      resolve(false);
    }, lookMs);
    void done.then(() => {
      clearInterval(timer);
      resolve(true);
    });
  });
}
