import { parentPort, receiveMessageOnPort } from 'node:worker_threads';
import { encoderFacts, framesPerSecond, errorText } from '@mellow/core';
import type { Kept, KeepOrder } from '@mellow/model';
import { openClipWriting, type ClipWriting } from '../hindsight/clipWriting';
import { createDriveHistory } from '../hindsight/driveHistory';
import type { History } from '../hindsight/history';
import { createMemoryHistory } from '../hindsight/memoryHistory';
import { openControl } from '../shared/control';
import { openRingReader } from '../shared/messageRing';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { heldKinds } from './queueKinds';

/** Between two looks at the ring so many packets of a clip are written. */
const packetsAtOnce = 32;

/** Holds the last minutes of packets, and writes a part of them into a file when asked; what rolls is not disturbed. */
runThread(({ order, memory }) => {
  const { hindsight, recipe } = order;
  if (!hindsight || !memory.held || !parentPort) throw new Error('There is nothing to hold.');
  const port = parentPort;
  const control = openControl(memory.control);
  const ring = openRingReader(memory.held);
  const fps = framesPerSecond(recipe.rate);
  const reorders = encoderFacts[recipe.encode.encoder].mostBFrames > 0 && recipe.encode.bFrames > 0;
  const asked: KeepOrder[] = [];
  let history: History | null = null;
  let trouble: string | null = null;
  let writing: { id: string; clip: ClipWriting } | null = null;
  tell({ type: 'ready', threadId: ownThreadId() });
  for (let ended = false; !ended || writing || asked.length;) {
    const message = ended ? null : ring.next(writing || asked.length ? 0 : 50_000);
    if (message) {
      const [kind, track, pts, dts, more] = message.fields;
      if (kind === heldKinds.end) ended = true;
      else if (kind === heldKinds.parameters) guarded(() => begin(message.payload));
      else
        guarded(() =>
          history?.push({ track, pts, dts, duration: Math.floor(more / 2), key: more % 2 === 1 }, message.payload),
        );
      ring.done();
    }
    for (let told = receiveMessageOnPort(port); told; told = receiveMessageOnPort(port))
      asked.push(told.message as KeepOrder);
    if (writing || asked.length) guarded(write);
    tellHeld();
    if (control.get('failed') && ring.count() === 0) ended = true;
  }
  // On the drive it goes with the take that it belongs to; after a death it stays.
  guarded(() => history?.close(control.reason() === 'server-gone' || control.get('failed') !== 0));
  control.set('keepDone', 1);
  tell({ type: 'done' });

  function tellHeld(): void {
    control.setFigure('heldFrames', history?.frames() ?? 0);
    control.setFigure('heldBytes', history?.bytes() ?? 0);
  }

  function begin(payload: Uint8Array): void {
    const header = payload.length ? payload.slice() : null;
    const windowFrames = Math.ceil((hindsight?.lengthS ?? 0) * fps);
    const options = { windowFrames, limitBytes: hindsight?.limitBytes ?? 0, reorders, header };
    history =
      hindsight?.where === 'drive'
        ? createDriveHistory(hindsight.folder, recipe, options)
        : createMemoryHistory(options);
  }

  function write(): void {
    if (!writing) {
      const next = asked.shift();
      if (!next) return;
      const clip = trouble ? null : (history?.clip(Math.ceil(next.lastS * fps)) ?? null);
      if (!clip)
        return told({ ok: false, id: next.id, why: trouble ?? 'Nothing is held yet: no whole picture has come.' });
      try {
        writing = { id: next.id, clip: openClipWriting(recipe, clip, next) };
      } catch (error) {
        clip.done();
        return told({ ok: false, id: next.id, why: errorText(error) });
      }
    }
    const { id, clip } = writing;
    try {
      const facts = clip.step(packetsAtOnce);
      control.add('keptSteps', 1);
      if (!facts) return;
      writing = null;
      told({ ok: true, id, ...facts });
    } catch (error) {
      clip.free();
      writing = null;
      told({ ok: false, id, why: errorText(error) });
    }
  }

  function told(kept: Kept): void {
    tell({ type: 'kept', kept });
  }

  /** What waits may fail; the take goes on. */
  function guarded(act: () => void): void {
    if (trouble && act !== write) return;
    try {
      act();
    } catch (error) {
      trouble = `The last minutes cannot be held any more: ${errorText(error)}`;
      history = null;
      tell({ type: 'log', level: 'error', text: trouble });
    }
  }
});
