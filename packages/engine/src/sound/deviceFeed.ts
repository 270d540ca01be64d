import { Worker } from 'node:worker_threads';
import type { SoundFormat } from '@mellow/core';
import type { SoundFrom } from '@mellow/model';
import { deviceInputFor, type DeviceInput } from './deviceTable';
import type { FeedListener, SoundFeed } from './feed';

/** What the thread that reads a device tells. */
export type DeviceMessage =
  | { type: 'begins'; format: SoundFormat }
  | { type: 'samples'; samples: Float32Array; arrivalUs: number }
  | { type: 'ended'; why: string };

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
  const worker = new Worker(new URL('./deviceSound.mjs', import.meta.url), { workerData: input });
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
      // Only calls that return by themselves run in it: it may be ended at any of them.
      void worker.terminate();
    },
  };
}
