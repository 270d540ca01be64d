import { dueUs, likenessOf, ssimOfLuma, type LumaPlane, type PictureLikeness } from '@mellow/core';
import type { Likeness, MediaJob } from '@mellow/model';
import { AVSEEK_FLAG_BACKWARD, type AVPixelFormat } from 'node-av/constants';
import { avGetPixFmtName, type FormatContext, type Frame, type Stream } from 'node-av/lib';
import { decodedPictures, openDecoder, pictureTrack } from './decodedPictures';
import { readKeptPictures, type KeptPicture } from './keptPictures';
import { principalPlane } from '../native/principalPlane';
import { openMedia, type ReadProgress } from './readBack';
import { requireNative } from '../native/requireNative';

/** Kept pictures that lie farther apart than this are sought, so that a long take is not decoded whole. */
const seekOverS = 5;

/**
 * Holds the pictures that a take's encoder was given against those its file decodes to, matched by time stamp.
 * @returns null where none of them is in the file
 */
export function compareKept(job: Extract<MediaJob, { kind: 'compare-kept' }>, progress: ReadProgress): Likeness | null {
  const { widthPx, heightPx, rate } = job;
  const kept = readKeptPictures(job.keptPath, widthPx, heightPx);
  const found: PictureLikeness[] = [];
  const next = (): KeptPicture | null => kept.next().value ?? null;
  let wanted = next();
  if (!wanted) return null;
  const input = openMedia(job.filePath);
  const far = (seekOverS * rate.num) / rate.den;
  try {
    const stream = pictureTrack(input);
    for (let from = 0, sought = true; wanted && sought; from = wanted?.n ?? 0) {
      if (from > 0) seekTo(input, stream, job, from);
      sought = false;
      for (const { n, frame } of numbered(input, stream, job)) {
        while (wanted && wanted.n < n) wanted = next();
        // What was sought for may lie behind where the file ends: then it is not sought for again.
        sought = wanted !== null && wanted.n - n > far && wanted.n !== from;
        if (!wanted || sought) break;
        if (wanted.n === n && frame.width === widthPx && frame.height === heightPx)
          found.push(compared(n, frame, wanted.plane));
        if (n % 60 === 0) progress(found.length, null);
      }
      progress(found.length, null);
    }
  } finally {
    kept.return(undefined);
    input.closeInputSync();
  }
  return likenessOf(found, rate);
}

type FileTimes = Pick<Extract<MediaJob, { kind: 'compare-kept' }>, 'rate' | 'fileOffsetUs'>;

function seekTo(input: FormatContext, stream: Stream, { rate, fileOffsetUs }: FileTimes, n: number): void {
  const ticks = ((fileOffsetUs + dueUs(rate, n)) * stream.timeBase.den) / (stream.timeBase.num * 1e6);
  input.seekFrameSync(stream.index, BigInt(Math.max(0, Math.floor(ticks))), AVSEEK_FLAG_BACKWARD);
}

/** Decoded pictures with their numbers among the due ones. */
function* numbered(
  input: FormatContext,
  stream: Stream,
  { rate, fileOffsetUs }: FileTimes,
): Generator<{ n: number; frame: Frame }> {
  const usPerTick = (stream.timeBase.num * 1e6) / stream.timeBase.den;
  const decoder = openDecoder(stream, 0);
  try {
    for (const frame of decodedPictures(input, stream, decoder))
      yield { n: Math.round(((Number(frame.pts) * usPerTick - fileOffsetUs) * rate.num) / (rate.den * 1e6)), frame };
  } finally {
    decoder.freeContext();
  }
}

function compared(n: number, frame: Frame, given: LumaPlane): PictureLikeness {
  const layout = requireNative(avGetPixFmtName(frame.format as AVPixelFormat), 'name of this kind of picture');
  const samples = requireNative(frame.data?.[0], 'samples in a decoded picture');
  const plane = principalPlane(layout, samples, frame.linesize[0] ?? given.widthPx, given.widthPx, given.heightPx);
  const same = Buffer.compare(plane.luma, given.luma) === 0;
  return { n, same, ssim: same ? 1 : ssimOfLuma(given, plane) };
}
