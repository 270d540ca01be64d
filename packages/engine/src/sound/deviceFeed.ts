import { Worker } from 'node:worker_threads';
import type { SoundFormat } from '@mellow/core';
import type { SoundFrom } from '@mellow/model';
import { deviceInputFor, type DeviceInput } from './deviceTable';
import type { FeedListener, SoundFeed } from './feed';

/** Threads lie beside the bundle that this is part of; read as source, as tests do, they lie in the build folder. */
const bundleFolder = import.meta.url.endsWith('.ts') ? new URL('../../build/', import.meta.url) : import.meta.url;

/** What the thread that reads a device tells. */
export type DeviceMessage =
  | { type: 'begins'; format: SoundFormat }
  | { type: 'samples'; samples: Float32Array; arrivalUs: number }
  | { type: 'ended'; why: string };

/** What that thread is given. */
export interface DeviceOrder {
  input: DeviceInput;
  /** Not 0: it shall end. */
  stop: SharedArrayBuffer;
}

/** How a sound is opened here by the library's devices; a sentence where it cannot be. */
export function deviceFeedFor(
  platform: NodeJS.Platform,
  from: SoundFrom,
): ((listener: FeedListener) => SoundFeed) | string {
  const input = deviceInputFor(platform, from);
  return typeof input === 'string' ? input : (listener) => openDeviceFeed(input, listener);
}

/** Reads a device in a thread of its own: the library waits inside its call until samples are there. */
export function openDeviceFeed(input: DeviceInput, listener: FeedListener): SoundFeed {
  const stop = new SharedArrayBuffer(4);
  const worker = new Worker(new URL('./deviceSound.mjs', bundleFolder), {
    workerData: { input, stop } satisfies DeviceOrder,
  });
  let over = false;
  const end = (why: string): void => {
    if (!over) listener.ended(why);
    over = true;
  };
  worker.on('message', (message: DeviceMessage) => {
    if (over) return;
    if (message.type === 'begins') listener.begins(message.format);
    else if (message.type === 'samples') listener.samples(message.samples, message.arrivalUs);
    else end(message.why);
  });
  worker.on('error', (error) => end(error.message));
  worker.on('exit', () => end('The device was closed.'));
  return {
    stop() {
      over = true;
      // A thread that is ended inside the library takes the whole process along: it ends by itself after its next samples.
      Atomics.store(new Int32Array(stop), 0, 1);
    },
  };
}
