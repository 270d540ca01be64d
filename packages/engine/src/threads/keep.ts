import { parentPort, receiveMessageOnPort } from 'node:worker_threads';
import type { KeepOrder } from '@mellow/model';
import { createHolding } from '../hindsight/holding';
import { openControl } from '../shared/control';
import { openRingReader } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createFaults } from './faults';
import { heldKinds } from '../shared/queueKinds';

/** Packets are taken in first: at most so many between two steps of a clip, so that those who ask get on as well. */
const mostBetweenSteps = 2048;

/** Holds the last minutes of packets, and writes a part of them into a file when asked; what rolls is not disturbed. */
runThread(({ order, memory }, owns) => {
  const { hindsight, recipe } = order;
  if (!hindsight || !memory.held || !parentPort) throw new Error('There is nothing to hold.');
  const port = parentPort;
  const control = openControl(memory.control);
  const ring = openRingReader(memory.held);
  const faults = createFaults(order, 'keep');
  const holding = owns(
    createHolding(hindsight, recipe, {
      kept: (kept) => tell({ type: 'kept', kept }),
      trouble: (text) => tell({ type: 'trouble', text }),
      nowUs,
    }),
    // On the drive it goes with the take that it belongs to; after a death it stays.
    (one) => one.close(control.reason() === 'server-gone' || control.get('failed') !== 0),
  );
  control.set('heldWanted', 1);
  tell({ type: 'ready', threadId: ownThreadId() });
  for (let ended = false; !ended || holding.busy();) {
    ended = takeIn(ended);
    for (let told = receiveMessageOnPort(port); told; told = receiveMessageOnPort(port))
      holding.keep(told.message as KeepOrder);
    if (holding.step()) control.add('keptSteps', 1);
    control.setFigure('heldFrames', holding.frames());
    control.setFigure('heldBytes', holding.bytes());
    if ((control.get('failed') || control.get('packDone')) && ring.count() === 0) ended = true;
  }
  faults('end');
  tell({ type: 'done' });

  /** All packets that wait, or the next one. @returns whether the last has come */
  function takeIn(ended: boolean): boolean {
    if (ended) return true;
    for (let i = 0; i < mostBetweenSteps; i++) {
      const message = ring.next(i > 0 || holding.busy() ? 0 : 50_000);
      if (!message) return false;
      const [kind, track, pts, dts, more] = message.fields;
      try {
        if (kind === heldKinds.parameters) {
          faults('begin');
          holding.begin(message.payload);
        } else if (kind === heldKinds.packet) {
          if (track < 0) faults('frame', pts);
          holding.push({ track, pts, dts, duration: Math.floor(more / 2), key: more % 2 === 1 }, message.payload);
        }
      } finally {
        // One that nobody can take in must not come again.
        ring.done();
      }
      if (kind === heldKinds.end) return true;
    }
    return false;
  }
});
