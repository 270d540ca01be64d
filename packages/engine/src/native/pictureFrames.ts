import type { Recipe } from '@mellow/model';
import { fileMatrix, fileRange } from '@mellow/core';
import {
  AV_PIX_FMT_BGR0,
  AV_PIX_FMT_YUV420P,
  AVCHROMA_LOC_LEFT,
  AVCOL_PRI_BT709,
  AVCOL_RANGE_JPEG,
  AVCOL_RANGE_MPEG,
  AVCOL_SPC_BT709,
  AVCOL_SPC_RGB,
  AVCOL_SPC_SMPTE170M,
  AVCOL_TRC_BT709,
  type AVColorRange,
  type AVColorSpace,
  type AVPixelFormat,
} from 'node-av/constants';
import { FFmpegError, Frame } from 'node-av/lib';
import type { PixelLayout } from './pixelLayout';

/** Tags of a picture's samples (ITU-T H.273). */
export interface ColourTags {
  range: AVColorRange;
  matrix: AVColorSpace;
}

/** How sources come here: the practice game's limited Rec. 709, the screen's blue, green and red. */
export const sourceTags = {
  yuv420p: { format: AV_PIX_FMT_YUV420P, range: AVCOL_RANGE_MPEG, matrix: AVCOL_SPC_BT709 },
  bgr0: { format: AV_PIX_FMT_BGR0, range: AVCOL_RANGE_JPEG, matrix: AVCOL_SPC_RGB },
} as const satisfies Record<string, ColourTags & { format: AVPixelFormat }>;

const matrices = { rgb: AVCOL_SPC_RGB, bt601: AVCOL_SPC_SMPTE170M, bt709: AVCOL_SPC_BT709 } as const;

/** How the file's samples are tagged. */
export const fileTags = (recipe: Recipe): ColourTags => ({
  range: fileRange(recipe) === 'full' ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG,
  matrix: matrices[fileMatrix(recipe)],
});

/** A native frame of this size with its own memory. */
export function createNativeFrame(
  widthPx: number,
  heightPx: number,
  tags: ColourTags,
  format: AVPixelFormat = AV_PIX_FMT_YUV420P,
): Frame {
  const frame = new Frame();
  frame.alloc();
  giveMemory(frame, widthPx, heightPx, tags, format);
  return frame;
}

/**
 * Planes of frames with memory of their own, asked for once: what the library makes for each asking is given back when the
 * event loop turns, which a thread of a take never does.
 */
const ownPlanes = new WeakMap<Frame, Buffer[]>();

function giveMemory(frame: Frame, widthPx: number, heightPx: number, tags: ColourTags, format: AVPixelFormat): void {
  frame.width = widthPx;
  frame.height = heightPx;
  frame.format = format;
  FFmpegError.throwIfError(frame.getBuffer(32), 'memory for a picture');
  ownPlanes.set(frame, frame.data ?? []);
  frame.colorRange = tags.range;
  frame.colorSpace = tags.matrix;
  frame.colorPrimaries = AVCOL_PRI_BT709;
  frame.colorTrc = AVCOL_TRC_BT709;
  frame.chromaLocation = AVCHROMA_LOC_LEFT;
}

/** A frame whose memory the encoder still reads gets new memory; what was in it would be overwritten anyway. */
export function freshMemory(frame: Frame): void {
  if (frame.isWritable) return;
  const { width, height, colorRange: range, colorSpace: matrix } = frame;
  const format = frame.format as AVPixelFormat;
  frame.unref();
  giveMemory(frame, width, height, { range, matrix }, format);
}

/** Copies a picture's planes into a native frame, line by line only where the lines differ in length. */
export function fillNativeFrame(frame: Frame, planes: readonly Uint8Array[], layout: PixelLayout): void {
  eachPlane(frame, layout, (native, nativeStride, i) => {
    const plane = layout.planes[i];
    const from = planes[i];
    if (!plane || !from) return;
    copyLines(from, plane.strideBytes, native, nativeStride, plane.lineBytes, plane.rows);
  });
}

/** Copies a native frame into a picture's planes. */
export function readNativeFrame(frame: Frame, planes: readonly Uint8Array[], layout: PixelLayout): void {
  eachPlane(frame, layout, (native, nativeStride, i) => {
    const plane = layout.planes[i];
    const into = planes[i];
    if (!plane || !into) return;
    copyLines(native, nativeStride, into, plane.strideBytes, plane.lineBytes, plane.rows);
  });
}

function eachPlane(frame: Frame, layout: PixelLayout, work: (native: Buffer, stride: number, i: number) => void): void {
  const data = ownPlanes.get(frame) ?? frame.data;
  const strides = frame.linesize;
  layout.planes.forEach((_, i) => {
    const [native, stride] = [data?.[i], strides[i]];
    if (!native || !stride) throw new Error('a native frame has no such plane');
    work(native, stride, i);
  });
}

function copyLines(
  from: Uint8Array,
  fromStride: number,
  into: Uint8Array,
  intoStride: number,
  lineBytes: number,
  rows: number,
): void {
  if (fromStride === intoStride) {
    into.set(from.subarray(0, fromStride * (rows - 1) + lineBytes));
    return;
  }
  for (let row = 0; row < rows; row++)
    into.set(from.subarray(row * fromStride, row * fromStride + lineBytes), row * intoStride);
}
