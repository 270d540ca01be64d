import type { MediaJob, Recipe, Unpaced } from '@mellow/model';
import {
  AV_PICTURE_TYPE_NONE,
  AV_PIX_FMT_YUV420P,
  AV_PIX_FMT_YUV420P10LE,
  AVSEEK_FLAG_BACKWARD,
} from 'node-av/constants';
import { Frame } from 'node-av/lib';
import { decodedPictures, openDecoder, pictureTrack } from '../reading/decodedPictures';
import { nativePixels } from '../native/encoderNames';
import { openPictureEncoder } from './pictureEncoder';
import { filterInputOf, openPictureFilter, type PictureFilter } from '../size/pictureFilter';
import { openMedia, type ReadProgress } from '../reading/readBack';
import { timeFrames } from './timeFrames';

/** Decoded frames that are held at once, at most; the rest of a large picture's frames are not needed to tell. */
const mostBytes = 256e6;

/**
 * Encodes frames of a take once more as its recipe says, without a clock. Processor time is that of this whole process, which
 * does nothing else meanwhile.
 * @throws in words where the file has no such frames, or the encoder does not open
 */
export function encodeUnpaced(
  { filePath, recipe, frames: wanted, atUs }: Extract<MediaJob, { kind: 'encode-unpaced' }>,
  progress: ReadProgress,
): Unpaced {
  const { widthPx, heightPx } = recipe.size;
  const frames = framesFrom(
    filePath,
    recipe,
    atUs,
    Math.max(2, Math.min(wanted, Math.floor(mostBytes / (widthPx * heightPx * 1.5)))),
  );
  try {
    if (frames.length < 2) throw new Error('The file holds too few pictures to encode again.');
    const encoder = openPictureEncoder(recipe, 0, false);
    try {
      const { processorUs, clockUs } = timeFrames(encoder, frames, frames.length, progress);
      return { frames: frames.length, processorUs, clockUs };
    } finally {
      encoder.free();
    }
  } finally {
    for (const frame of frames) frame.free();
  }
}

function framesFrom(filePath: string, recipe: Recipe, atUs: number, count: number): Frame[] {
  const input = openMedia(filePath);
  const frames: Frame[] = [];
  const convert = converterFor(recipe);
  try {
    const stream = pictureTrack(input);
    const decoder = openDecoder(stream, 1);
    const from = Math.max(0, Math.floor((atUs * stream.timeBase.den) / (stream.timeBase.num * 1e6)));
    input.seekFrameSync(stream.index, BigInt(from), AVSEEK_FLAG_BACKWARD);
    for (const frame of decodedPictures(input, stream, decoder)) {
      const own = new Frame();
      own.alloc();
      if (frame.format === convert.format) own.ref(frame);
      else convert.run(frame, own);
      // The file's own choice of key pictures is none of a new encode's.
      own.pictType = AV_PICTURE_TYPE_NONE;
      frames.push(own);
      if (frames.length === count) break;
    }
    decoder.freeContext();
  } finally {
    convert.free();
    input.closeInputSync();
  }
  return frames;
}

/** Blocks may want the same 4:2:0 samples laid out in another way than files decode to. */
function converterFor(recipe: Recipe) {
  const { format, name } = nativePixels(recipe.encode);
  let filter: PictureFilter | null = null;
  return {
    format,
    run(from: Frame, into: Frame): void {
      if (from.format !== AV_PIX_FMT_YUV420P && from.format !== AV_PIX_FMT_YUV420P10LE)
        throw new Error('The file holds another kind of pixels than its encoder was given.');
      filter ??= openPictureFilter(filterInputOf(from), `format=${name}`);
      filter.run(from, into);
    },
    free: (): void => filter?.free(),
  };
}
