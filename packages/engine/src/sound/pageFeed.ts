import { connect } from 'node:net';
import { z } from 'zod';
import type { ChannelPlace, PageSounds, SoundFrom } from '@mellow/model';
import { nowUs } from '../shared/monotonic';
import type { FeedListener, SoundFeed } from './feed';
import { samplesOfPcm } from './pcm';

/** The line that begins what the application sends of a page's sound. */
export const pageFormatSchema = z.object({
  rateHz: z.number().min(4000).max(768_000),
  channels: z.int().min(1).max(8),
});

const placesByCount: Record<number, ChannelPlace[]> = { 1: ['mono'], 2: ['front-left', 'front-right'] };

/** Takes what the page hears from the application's own socket: a line asks, a line tells the format, floats follow. */
export function openPageFeed(
  { address, token }: PageSounds,
  what: Extract<SoundFrom, { kind: 'page' }>['what'],
  listener: FeedListener,
): SoundFeed {
  const socket = connect(address);
  let channels = 0;
  let rest: Buffer = Buffer.alloc(0);
  let stopped = false;
  const ended = (why: string): void => {
    if (!stopped) listener.ended(why);
    stopped = true;
    socket.destroy();
  };
  socket.on('connect', () => socket.write(`${token} ${what}\n`));
  socket.on('data', (bytes: Buffer) => {
    let all = rest.length ? Buffer.concat([rest, bytes]) : bytes;
    if (!channels) {
      const line = all.indexOf(10);
      if (line < 0) return void (rest = all);
      const format = pageFormatSchema.safeParse(jsonOf(all.subarray(0, line))).data;
      if (!format) return ended('What the page sent was not understood.');
      channels = format.channels;
      listener.begins({
        rateHz: format.rateHz,
        channels: placesByCount[channels] ?? Array.from({ length: channels }, () => 'other' as const),
      });
      all = all.subarray(line + 1);
    }
    const whole = all.length - (all.length % (channels * 4));
    rest = Buffer.from(all.subarray(whole));
    if (whole && !stopped) listener.samples(samplesOfPcm(all.subarray(0, whole), 'f32'), nowUs());
  });
  socket.on('error', () => ended('The page is not listening: open it on Sound.'));
  socket.on('close', () => ended('The page is not listening any more: open it on Sound.'));
  return {
    stop() {
      stopped = true;
      socket.destroy();
    },
  };
}

function jsonOf(bytes: Buffer): unknown {
  try {
    return JSON.parse(String(bytes));
  } catch {
    return null;
  }
}
