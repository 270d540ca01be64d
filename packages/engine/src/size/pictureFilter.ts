import { AVCOL_RANGE_JPEG, AVCOL_RANGE_UNSPECIFIED, AVCOL_SPC_RGB, type AVPixelFormat } from 'node-av/constants';
import { avGetPixFmtName, Filter, FilterGraph, FilterInOut, FFmpegError, type Frame } from 'node-av/lib';
import { isRgbFormat } from '@mellow/core';
import { filterMatrixName } from '../native/codedNames';
import { requireNative } from '../native/requireNative';

/** The library keeps its own reference to a frame that is added with this flag; the caller's stays as it is. */
const keepReference = 8;

export interface PictureFilter {
  /** Runs one picture through; both frames are the caller's. */
  run(input: Frame, into: Frame): void;
  free(): void;
}

/** Pictures as they come to a filter: the library's name of their pixels, their range and matrix. */
export interface FilterInput {
  widthPx: number;
  heightPx: number;
  pixels: string;
  range: 'limited' | 'full';
  matrix: string;
}

/** What a decoded picture says of itself. A file that says nothing of its matrix is taken for Rec. 709, as players take it from 720 lines on. */
export function filterInputOf(frame: Frame): FilterInput {
  const pixels = avGetPixFmtName(frame.format as AVPixelFormat) ?? 'yuv420p';
  const rgb = isRgbFormat(pixels) || frame.colorSpace === AVCOL_SPC_RGB;
  const full =
    frame.colorRange === AVCOL_RANGE_JPEG ||
    (frame.colorRange === AVCOL_RANGE_UNSPECIFIED && (rgb || pixels.startsWith('yuvj')));
  return {
    widthPx: frame.width,
    heightPx: frame.height,
    pixels,
    range: full ? 'full' : 'limited',
    matrix: rgb ? 'gbr' : filterMatrixName(frame.colorSpace),
  };
}

/**
 * Opens a chain of filters for pictures of one size and kind.
 * @param chain in the filter library's own words
 */
export function openPictureFilter(input: FilterInput, chain: string): PictureFilter {
  const { widthPx, heightPx, pixels, range, matrix } = input;
  const graph = new FilterGraph();
  graph.alloc();
  const source = requireNative(
    graph.createFilter(
      requireNative(Filter.getByName('buffer'), 'buffer filter'),
      'in',
      `video_size=${widthPx}x${heightPx}:pix_fmt=${pixels}:time_base=1/1000000:pixel_aspect=1/1:colorspace=${matrix}:range=${range === 'full' ? 'pc' : 'tv'}`,
    ),
    'filter source',
  );
  const sink = requireNative(
    graph.createFilter(requireNative(Filter.getByName('buffersink'), 'buffer sink'), 'out'),
    'filter sink',
  );
  const outputs = FilterInOut.createList([{ name: 'in', filterCtx: source, padIdx: 0 }]);
  const inputs = FilterInOut.createList([{ name: 'out', filterCtx: sink, padIdx: 0 }]);
  FFmpegError.throwIfError(graph.parsePtr(chain, inputs, outputs), 'picture filter');
  FFmpegError.throwIfError(graph.configSync(), 'picture filter');
  return {
    run(input, into) {
      FFmpegError.throwIfError(source.buffersrcAddFrameSync(input, keepReference as never), 'picture filter');
      FFmpegError.throwIfError(sink.buffersinkGetFrameSync(into), 'picture filter');
    },
    free: () => graph.free(),
  };
}
