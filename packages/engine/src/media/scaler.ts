import type { Recipe, ScalingFilter } from '@mellow/model';
import { Filter, FilterGraph, FilterInOut, FFmpegError, type Frame } from 'node-av/lib';
import { requireNative } from './requireNative';

/** The scaling library's names for our filters. */
const methods: Record<ScalingFilter, string> = {
  nearest: 'neighbor',
  bilinear: 'bilinear',
  bicubic: 'bicubic',
  area: 'area',
  lanczos: 'lanczos',
  spline: 'spline',
};

export interface Scaler {
  /** Scales `from` into `into`; both are the caller's. */
  scale(from: Frame, into: Frame): void;
  free(): void;
}

/** A scaler from the game's size to the file's, limited Rec. 709 in, Rec. 709 in the recipe's range out. */
export function createScaler(game: { widthPx: number; heightPx: number }, size: Recipe['size'], range: Recipe['encode']['range']): Scaler {
  const graph = new FilterGraph();
  graph.alloc();
  const source = graph.createFilter(
    requireNative(Filter.getByName('buffer'), 'buffer filter'),
    'in',
    `video_size=${game.widthPx}x${game.heightPx}:pix_fmt=yuv420p:time_base=1/1000000:pixel_aspect=1/1:colorspace=bt709:range=tv`,
  );
  const sink = graph.createFilter(requireNative(Filter.getByName('buffersink'), 'buffer sink'), 'out');
  const outputs = FilterInOut.createList([{ name: 'in', filterCtx: requireNative(source, 'filter source'), padIdx: 0 }]);
  const inputs = FilterInOut.createList([{ name: 'out', filterCtx: requireNative(sink, 'filter sink'), padIdx: 0 }]);
  const outRange = range === 'full' ? 'pc' : 'tv';
  const text = `scale=${size.widthPx}:${size.heightPx}:flags=${methods[size.filter]}+accurate_rnd:in_range=tv:out_color_matrix=bt709:out_range=${outRange},format=yuv420p`;
  FFmpegError.throwIfError(graph.parsePtr(text, inputs, outputs), 'scaling filter');
  FFmpegError.throwIfError(graph.configSync(), 'scaling filter');
  const from = requireNative(source, 'filter source');
  const to = requireNative(sink, 'filter sink');
  return {
    scale(input, into) {
      FFmpegError.throwIfError(from.buffersrcAddFrameSync(input, 8 as never), 'scaling');
      FFmpegError.throwIfError(to.buffersinkGetFrameSync(into), 'scaling');
    },
    free: () => graph.free(),
  };
}
