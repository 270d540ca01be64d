import { errorText } from '@mellow/core';
import type { RecorderShell } from './recorderShell';
import { makeSimulatedTake } from './simulatedTake';
import { onClosed } from './takeClosed';

/** Lets the recorder roll the take that is prepared; a simulated one is computed and packed. What comes of it are events. */
export function rollTake(shell: RecorderShell): void {
  const now = shell.current;
  if (!now?.prepared) return;
  const { order, simulated, context: forecast, seed } = now.prepared;
  const { recorder, watchdog } = shell;
  const { jobs } = shell.context;
  const refused = (error: unknown): void => {
    if (shell.current !== now) return;
    [now.how, now.text] = ['error', errorText(error)];
    shell.hear({ type: 'refused' });
  };
  watchdog.sign();
  void recorder.ready().then((client) => {
    watchdog.sign();
    if (shell.life.stopping) queueMicrotask(client.stop);
    if (!simulated) return client.roll(order);
    makeSimulatedTake({ recorder: client, order, context: forecast, seed, jobs }).then(
      ({ closing, reading }) => onClosed(shell, now, closing, reading),
      refused,
    );
  }, refused);
}
