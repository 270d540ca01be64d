import { errorText } from '@mellow/core';
import type { Camera } from '@mellow/model';
import { openDeviceFeed, openStandInFeed, type CameraFeed } from '../camera/cameraFeed';
import { openCameraFile, type CameraFile } from '../camera/cameraFile';
import { cameraInputFor } from '../camera/cameraTable';
import { cameraAwayUs } from '../camera/cameraPictures';
import { openControl } from '../shared/control';
import { nowUs, sleepUs } from '../shared/monotonic';
import { openSlotPool } from '../shared/slotPool';
import { openTakeClock } from '../shared/takeClock';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createFaults } from './faults';

/** A camera that is gone is looked for again so often. */
const againUs = 1e6;

/** Brings the camera's pictures: for Size to lay into the file's, or into a file of their own. */
runThread(({ order, memory }, owns) => {
  const { camera } = order.recipe;
  if (!camera || !memory.cameraPool) throw new Error('There is no camera to open.');
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const pool = openSlotPool(memory.cameraPool);
  const { layout } = memory.cameraPool;
  const words = camera.from.kind === 'device' ? camera.from.name : 'The stand-in camera';
  const over = () => control.get('failed') !== 0 || control.get('pickerDone') !== 0;
  // A take with a camera that cannot be opened does not begin: who wants to be seen should know.
  let feed: CameraFeed | null = null;
  let file: CameraFile | null = null;
  owns(null, () => feed?.close());
  owns(null, closeFile);
  const faults = createFaults(order, 'camera');
  feed = open(camera);
  // What a thread before wrote stays as it is: its file cannot be gone on with.
  const first = control.get('cameraPictures') === 0;
  file = camera.where === 'own-file' && first ? openCameraFile(camera, layout, order.cameraFile) : null;
  let lastUs = nowUs();
  let triedUs = 0;
  let away = false;
  let pictures = control.get('cameraPictures');
  tell({ type: 'ready', threadId: ownThreadId() });
  while (!over()) {
    feed ??= openAgain();
    const slot = feed ? pool.claim() : -1;
    if (!feed || slot < 0) {
      sleepUs(5000);
      noteAway();
      continue;
    }
    const atUs = nextInto(feed, slot);
    if (atUs === null) pool.release(slot);
    else publish(slot, atUs);
    noteAway();
  }
  closeFile();
  tell({ type: 'done' });

  function open(of: Camera): CameraFeed {
    if (of.from.kind === 'stand-in') return openStandInFeed(of, layout, () => control.figure('dueZeroUs'));
    const input = order.cameraInput ?? cameraInputFor(process.platform, of);
    if (typeof input === 'string') throw new Error(input);
    try {
      return openDeviceFeed(input, layout);
    } catch (error) {
      throw new Error(`${words} cannot be opened: ${errorText(error)}. Is another program using it?`);
    }
  }

  function openAgain(): CameraFeed | null {
    if (nowUs() - triedUs < againUs || !camera) return null;
    triedUs = nowUs();
    try {
      return open(camera);
    } catch {
      return null;
    }
  }

  /** @returns when the picture was taken; null where none came, or the camera is gone */
  function nextInto(from: CameraFeed, slot: number): number | null {
    try {
      return from.next(pool.planes(slot));
    } catch (error) {
      tell({ type: 'log', level: 'warn', text: `${words} is gone: ${errorText(error)}. The take goes on without it.` });
      from.close();
      feed = null;
      return null;
    }
  }

  function publish(slot: number, atUs: number): void {
    lastUs = nowUs();
    const sinceZeroUs = clock.fileOf(atUs);
    const counts = control.figure('dueZeroUs') > 0 && sinceZeroUs >= 0 && clock.pausedSinceUs() === null;
    if (counts) control.set('cameraPictures', ++pictures);
    if (counts) faults('frame', pictures);
    if (counts) writeOwn(slot, sinceZeroUs);
    pool.publish(slot, pictures, pictures, atUs);
    const before = control.exchange('latestCamera', slot + 1);
    if (before > 0) pool.discard(before - 1);
  }

  /** Its own file may fail; the take goes on. */
  function writeOwn(slot: number, sinceZeroUs: number): void {
    try {
      file?.write(pool.planes(slot), sinceZeroUs);
    } catch (error) {
      tell({ type: 'log', level: 'error', text: `The camera’s file cannot be written any more: ${errorText(error)}` });
      closeFile();
    }
  }

  function closeFile(): void {
    try {
      file?.close();
    } catch (error) {
      tell({ type: 'log', level: 'error', text: `The camera’s file could not be closed: ${errorText(error)}` });
    }
    file = null;
  }

  function noteAway(): void {
    const zeroUs = control.figure('dueZeroUs');
    // Nothing is missed before the take begins.
    if (zeroUs === 0 || away === nowUs() - Math.max(lastUs, zeroUs) > cameraAwayUs) return;
    away = !away;
    control.set('cameraAway', away ? 1 : 0);
    if (away) {
      control.add('cameraAwayTimes', 1);
      control.setFigure('cameraAwaySinceUs', Math.max(lastUs, zeroUs));
      tell({ type: 'log', level: 'warn', text: `${words} brings no pictures.` });
    } else {
      const sinceUs = control.figure('cameraAwaySinceUs');
      control.setFigure('cameraAwayUs', control.figure('cameraAwayUs') + lastUs - sinceUs);
      tell({ type: 'log', level: 'info', text: `${words} is back.` });
    }
  }
});
