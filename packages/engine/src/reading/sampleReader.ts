import { existsSync } from 'node:fs';
import type { MediaFacts, SampleSource } from '@mellow/model';
import { Frame, type CodecContext, type FormatContext } from 'node-av/lib';
import { decodedPictures, openDecoder, pictureTrack } from './decodedPictures';
import { openFittingFilter } from '../size/fittingFilter';
import { filterInputOf, type FilterInput } from '../size/pictureFilter';
import { readNativeFrame } from '../native/pictureFrames';
import type { PixelLayout } from '../native/pixelLayout';
import { factsOf, openMedia, type ReadProgress } from './readBack';

/** Pictures of a sample, one after another, from its beginning and round again. */
export interface SampleReader {
  /** Decodes the next one. @returns its time, microseconds from the first, which goes on rising when the file begins anew */
  next(): number;
  /** Puts what was decoded last into planes of the layout. */
  read(planes: readonly Uint8Array[]): void;
  close(): void;
}

interface Opened {
  input: FormatContext;
  decoder: CodecContext;
  pictures: Generator<Frame>;
  firstUs: number | null;
}

/** @throws in words where the file cannot be read or holds no picture */
export function openSampleReader(source: SampleSource, layout: PixelLayout): SampleReader {
  const chain = [
    `scale=${source.widthPx}:${source.heightPx}:flags=bicubic+accurate_rnd+full_chroma_int:out_color_matrix=bt709:out_range=${source.pixels === 'bgr0' ? 'pc' : 'tv'}`,
    `format=${source.pixels}`,
  ].join(',');
  const converted = new Frame();
  converted.alloc();
  let opened: Opened | null = open(source.path);
  const filter = openFittingFilter(chain);
  let rounds = 0;
  let current: Frame | null = null;
  return {
    next() {
      for (let tries = 0; tries < 2; tries++) {
        const file = (opened ??= open(source.path));
        const { value, done } = file.pictures.next() as IteratorResult<Frame, void>;
        if (!done && value) {
          current = value;
          const { timeBase } = pictureTrack(file.input);
          const timeUs = (Number(value.bestEffortTimestamp) * timeBase.num * 1e6) / timeBase.den;
          file.firstUs ??= timeUs;
          return rounds * source.lengthUs + timeUs - file.firstUs;
        }
        closeFile();
        rounds++;
      }
      throw new Error(`The sample ${source.path} holds no picture that can be decoded.`);
    },
    read(planes) {
      if (!current) throw new Error('no picture was decoded');
      if (isSo(filterInputOf(current), source)) return readNativeFrame(current, planes, layout);
      filter.run(current, converted);
      readNativeFrame(converted, planes, layout);
    },
    close() {
      closeFile();
      filter.free();
      converted.free();
    },
  };

  function closeFile(): void {
    opened?.pictures.return(undefined);
    opened?.decoder.freeContext();
    opened?.input.closeInputSync();
    [opened, current] = [null, null];
  }
}

/** What a file says of itself, once its first picture could be decoded. @throws in words where it cannot be a sample */
export function sampleFacts(path: string, progress: ReadProgress): MediaFacts {
  const file = open(path);
  try {
    if ((file.pictures.next() as IteratorResult<Frame, void>).done)
      throw new Error('The file holds no picture that can be decoded.');
  } finally {
    file.pictures.return(undefined);
    file.decoder.freeContext();
    file.input.closeInputSync();
  }
  return factsOf(path, progress);
}

function open(path: string): Opened {
  if (!existsSync(path)) throw new Error(`The sample is not at ${path}.`);
  const input = openMedia(path);
  const stream = pictureTrack(input);
  const decoder = openDecoder(stream, 0);
  return { input, decoder, pictures: decodedPictures(input, stream, decoder), firstUs: null };
}

/** Whether decoded pictures are handed on as they are. */
function isSo(input: FilterInput, { pixels, widthPx, heightPx }: SampleSource): boolean {
  return (
    input.pixels === pixels &&
    input.widthPx === widthPx &&
    input.heightPx === heightPx &&
    (pixels === 'bgr0' || (input.matrix === 'bt709' && input.range === 'limited'))
  );
}
