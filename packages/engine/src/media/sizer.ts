import { fileMatrix, fileRange, fitInto, type SizePx } from '@mellow/core';
import type { Recipe, ScalingFilter } from '@mellow/model';
import {
  AV_PIX_FMT_NV12,
  AV_PIX_FMT_YUV420P,
  AV_PIX_FMT_YUV444P,
  AV_PIX_FMT_YUVJ420P,
  SWS_ACCURATE_RND,
  SWS_AREA,
  SWS_BICUBIC,
  SWS_BILINEAR,
  SWS_LANCZOS,
  SWS_POINT,
  SWS_SPLINE,
  type AVPixelFormat,
  type SwsFlags,
} from 'node-av/constants';
import { FFmpegError, Frame, SoftwareScaleContext } from 'node-av/lib';
import { createNativeFrame, fillNativeFrame, readNativeFrame, sourceTags } from './pictureFrames';
import { openPictureFilter } from './pictureFilter';
import { blackOf, pixelLayout, type LayoutName, type PixelLayout, type PlaneLayout } from './pixelLayout';

/** Scales and converts one picture from the source's planes into the file's. */
export interface Sizer {
  run(source: readonly Buffer[], target: readonly Buffer[]): void;
  free(): void;
}

/** The scaling library's flags and names for our filters. */
const methods: Record<ScalingFilter, { flag: SwsFlags; name: string }> = {
  nearest: { flag: SWS_POINT, name: 'neighbor' },
  bilinear: { flag: SWS_BILINEAR, name: 'bilinear' },
  bicubic: { flag: SWS_BICUBIC, name: 'bicubic' },
  area: { flag: SWS_AREA, name: 'area' },
  lanczos: { flag: SWS_LANCZOS, name: 'lanczos' },
  spline: { flag: SWS_SPLINE, name: 'spline' },
};

/** Layouts that the scaler makes straight into shared memory: the matrix stays, only size and sampling change. */
const direct: Partial<Record<LayoutName, AVPixelFormat>> = {
  yuv420p: AV_PIX_FMT_YUV420P,
  nv12: AV_PIX_FMT_NV12,
  yuv444p: AV_PIX_FMT_YUV444P,
  yuvj420p: AV_PIX_FMT_YUVJ420P,
};

/** A part of a picture, sides even. */
interface Part extends SizePx {
  leftPx: number;
  topPx: number;
}

const evenDown = (n: number): number => Math.max(2, Math.floor(n / 2) * 2);
const wholeOf = ({ widthPx, heightPx }: SizePx): Part => ({ leftPx: 0, topPx: 0, widthPx, heightPx });

/** Which part of the source lands on which part of the file. */
export function partsOf(source: SizePx, { size }: Pick<Recipe, 'size'>): { from: Part; to: Part } {
  const file: SizePx = size;
  const { picture, barsPx, cutShare } = fitInto(source, file, size.fit);
  const evenBar = (px: number): number => Math.floor(px / 2) * 2;
  const to = { ...picture, leftPx: evenBar(barsPx.side), topPx: evenBar(barsPx.top) };
  if (cutShare === 0) return { from: wholeOf(source), to };
  const wide = file.widthPx / source.widthPx > file.heightPx / source.heightPx;
  const kept = {
    widthPx: wide ? source.widthPx : evenDown(source.widthPx * (1 - cutShare)),
    heightPx: wide ? evenDown(source.heightPx * (1 - cutShare)) : source.heightPx,
  };
  const from = {
    ...kept,
    leftPx: evenBar((source.widthPx - kept.widthPx) / 2),
    topPx: evenBar((source.heightPx - kept.heightPx) / 2),
  };
  return { from, to };
}

/**
 * Opens Size for a source and a recipe. 4:2:0, 4:4:4 and NV12 of the same matrix are scaled from shared memory into
 * shared memory; red, green and blue, and the Rec. 601 of Motion JPEG, need the library's own frames on the way.
 */
export function createSizer(source: PixelLayout, target: PixelLayout, recipe: Recipe): Sizer {
  const format = direct[target.name];
  return source.name === 'yuv420p' &&
    format !== undefined &&
    fileMatrix(recipe) === 'bt709' &&
    fileRange(recipe) === 'limited'
    ? directSizer(source, target, recipe, format)
    : filterSizer(source, target, recipe);
}

const startOf = (plane: PlaneLayout, part: Part): number =>
  Math.floor(part.topPx / plane.step.y) * plane.strideBytes +
  Math.floor(part.leftPx / plane.step.x) * plane.bytesPerSample;

function directSizer(source: PixelLayout, target: PixelLayout, recipe: Recipe, format: AVPixelFormat): Sizer {
  const { from, to } = partsOf(source, recipe);
  const scaler = new SoftwareScaleContext();
  const flags = (methods[recipe.size.filter].flag | SWS_ACCURATE_RND) as SwsFlags;
  scaler.getContext(from.widthPx, from.heightPx, AV_PIX_FMT_YUV420P, to.widthPx, to.heightPx, format, flags);
  const sourceStrides = source.planes.map((plane) => plane.strideBytes);
  const targetStrides = target.planes.map((plane) => plane.strideBytes);
  const hasBars = to.widthPx !== target.widthPx || to.heightPx !== target.heightPx;
  const blacks = blackOf(target.name, 'limited');
  return {
    run(sourcePlanes, targetPlanes) {
      if (hasBars) targetPlanes.forEach((plane, i) => plane.fill(blacks[i] ?? 0));
      const code = scaler.scaleSync(
        source.planes.map((plane, i) => sourcePlanes[i]!.subarray(startOf(plane, from))),
        sourceStrides,
        0,
        from.heightPx,
        target.planes.map((plane, i) => targetPlanes[i]!.subarray(startOf(plane, to))),
        targetStrides,
      );
      FFmpegError.throwIfError(code, 'scaling');
      if (hasBars) blackRightOf(targetPlanes, target, to, blacks);
    },
    free: () => scaler.freeContext(),
  };
}

/** The scaler may write past the end of a line; what lies right of the picture is made black again. */
function blackRightOf(planes: readonly Buffer[], layout: PixelLayout, to: Part, blacks: readonly number[]): void {
  layout.planes.forEach((plane, i) => {
    const right = Math.floor((to.leftPx + to.widthPx) / plane.step.x) * plane.bytesPerSample;
    if (right >= plane.lineBytes) return;
    for (let row = 0; row < plane.rows; row++)
      planes[i]?.fill(blacks[i] ?? 0, row * plane.strideBytes + right, row * plane.strideBytes + plane.lineBytes);
  });
}

function filterSizer(source: PixelLayout, target: PixelLayout, recipe: Recipe): Sizer {
  const { from, to } = partsOf(source, recipe);
  const pixels = source.name === 'bgr0' ? 'bgr0' : 'yuv420p';
  const tags = sourceTags[pixels];
  const inRange = pixels === 'bgr0' ? 'pc' : 'tv';
  const crop = `crop=${from.widthPx}:${from.heightPx}:${from.leftPx}:${from.topPx}`;
  // A single colour sample for each pixel, made with all the care the library has: half a step is the most it is off then.
  const flags = `${methods[recipe.size.filter].name}+accurate_rnd+full_chroma_int+full_chroma_inp`;
  const range = fileRange(recipe) === 'full' ? 'pc' : 'tv';
  const matrix = { rgb: 'bt709', bt601: 'bt601', bt709: 'bt709' }[fileMatrix(recipe)];
  const scale = `scale=${to.widthPx}:${to.heightPx}:flags=${flags}:in_range=${inRange}:in_color_matrix=bt709:out_color_matrix=${matrix}:out_range=${range}`;
  const pad = `pad=${target.widthPx}:${target.heightPx}:${to.leftPx}:${to.topPx}:color=black`;
  const hasBars = to.widthPx !== target.widthPx || to.heightPx !== target.heightPx;
  const chain = [crop, scale, `format=${target.name}`, ...(hasBars ? [pad] : [])].join(',');
  const filter = openPictureFilter(
    {
      widthPx: source.widthPx,
      heightPx: source.heightPx,
      pixels,
      ...(pixels === 'bgr0'
        ? { range: 'full' as const, matrix: 'gbr' }
        : { range: 'limited' as const, matrix: 'bt709' }),
    },
    chain,
  );
  const input = createNativeFrame(source.widthPx, source.heightPx, tags, tags.format);
  const output = new Frame();
  output.alloc();
  let count = 0n;
  return {
    run(sourcePlanes, targetPlanes) {
      fillNativeFrame(input, sourcePlanes, source);
      input.pts = count++;
      output.unref();
      filter.run(input, output);
      readNativeFrame(output, targetPlanes, target);
    },
    free() {
      filter.free();
      input.free();
      output.free();
    },
  };
}

/** The layout of the practice game's pictures: planes without padding, one after another. */
export const sourceLayout = (size: SizePx): PixelLayout => pixelLayout('yuv420p', size.widthPx, size.heightPx, false);
