import { engineCommandSchema, type EngineEvent } from '@mellow/model';
import { runJob } from './jobs';
import { runTake, type TakeRun } from './takeRun';

/** The engine's process: takes commands over its channel, rolls one take at a time, runs media jobs. */
const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event);
};

let run: TakeRun | null = null;
const textOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

process.on('message', (raw) => {
  const parsed = engineCommandSchema.safeParse(raw);
  if (!parsed.success) {
    emit({ type: 'log', level: 'error', text: `A command was not understood: ${parsed.error.message}` });
    return;
  }
  const command = parsed.data;
  if (command.type === 'stop') run?.stop('stopped');
  else if (command.type === 'quit') quit();
  else if (command.type === 'job') {
    runJob(command.job, (level, text) => emit({ type: 'log', level, text })).then(
      (result) => emit({ type: 'job-done', id: command.id, result }),
      (error: unknown) => emit({ type: 'job-failed', id: command.id, text: textOf(error) }),
    );
  } else if (run) {
    emit({ type: 'refused', takeId: command.order.takeId, text: 'A take is rolling already.' });
  } else {
    const { takeId } = command.order;
    run = runTake(command.order, emit);
    run.result
      .then(
        (result) => emit({ type: 'done', result }),
        (error: unknown) => emit({ type: 'refused', takeId, text: textOf(error) }),
      )
      .finally(() => {
        run = null;
        if (!process.connected) process.exit(0);
      });
  }
});

// The server is gone: the take is closed here, and the next start of the server finds it.
process.on('disconnect', quit);
process.on('SIGTERM', quit);
process.on('SIGINT', () => {});

function quit(): void {
  if (run) run.stop('server-gone');
  else process.exit(0);
}

setInterval(() => emit({ type: 'beat' }), 500);
emit({ type: 'ready', pid: process.pid });
