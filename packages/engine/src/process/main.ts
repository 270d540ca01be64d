import { errorText } from '@mellow/core';
import { engineCommandSchema, type EngineEvent } from '@mellow/model';
import { newLocalAddress } from '../client/localAddress';
import { compileLess } from './compileLess';
import { answerAt, beatIn } from './heartbeat';
import { runPairedTake } from './pairedTake';
import type { TakeRun } from './takeRun';

/** The recorder's process: takes commands over its channel and rolls one take at a time. Nothing else runs in it. */
const emit = (event: EngineEvent): void => {
  // A server that has just gone is noticed by the end of the channel.
  if (process.connected) process.send?.(event, undefined, undefined, () => {});
};

/** Resolves when the message is through, or nobody is there to take it. */
const emitFully = (event: EngineEvent): Promise<void> =>
  new Promise((resolve) => {
    if (process.connected) process.send?.(event, undefined, undefined, () => resolve());
    else resolve();
  });

compileLess();
let run: TakeRun | null = null;
let takeId: string | null = null;
let quitting = false;
const address = newLocalAddress('recorder');
answerAt(address, () => ({ pid: process.pid, takeId }));

process.on('message', (raw) => {
  const parsed = engineCommandSchema.safeParse(raw);
  if (!parsed.success) {
    const asked = (raw as { order?: { takeId?: unknown } } | null)?.order?.takeId;
    const text = 'The order was not understood; this recorder and the application do not fit together.';
    if (typeof asked === 'string') emit({ type: 'refused', takeId: asked, text });
    else emit({ type: 'log', level: 'error', text });
    return;
  }
  const command = parsed.data;
  switch (command.type) {
    case 'stop':
      return run?.stop('stopped');
    case 'hold':
      return run?.hold(command.sound, command.open);
    case 'pause':
      return run?.pause(command.on);
    case 'keep':
      if (run) return run.keep(command.keep);
      return emit({ type: 'kept', kept: { ok: false, id: command.keep.id, why: 'Nothing rolls.' } });
    case 'quit':
      return quit();
    case 'job':
      return emit({ type: 'job-failed', text: 'A recorder runs no jobs.' });
    case 'roll':
      if (run) return emit({ type: 'refused', takeId: command.order.takeId, text: 'A take is rolling already.' });
      return void roll(command.order);
  }
});

async function roll(order: Parameters<typeof runPairedTake>[0]): Promise<void> {
  takeId = order.takeId;
  const heart = beatIn(order.ledgerFolder);
  const timer = setInterval(heart.beat, 500);
  try {
    run = runPairedTake(order, address, emit);
    heart.beat();
    const closing = await run.closing;
    await emitFully({ type: 'closed', closing });
  } catch (error) {
    await emitFully({ type: 'refused', takeId: order.takeId, text: errorText(error) });
  } finally {
    clearInterval(timer);
    heart.end();
    run = null;
    takeId = null;
    if (quitting || !process.connected) process.exit(0);
  }
}

// The server is gone: the take is closed here, and the next start of the server finds it.
process.on('disconnect', quit);
process.on('SIGTERM', quit);
process.on('SIGINT', () => {});

function quit(): void {
  quitting = true;
  if (run) run.stop('server-gone');
  else process.exit(0);
}

setInterval(() => emit({ type: 'beat' }), 500);
emit({ type: 'ready', pid: process.pid });
// A server that went while this process was loading is never told by an event.
if (!process.connected) quit();
