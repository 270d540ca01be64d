import type { Recipe } from '@mellow/model';
import type { Picture420 } from '@mellow/practice';
import {
  AV_PIX_FMT_YUV420P,
  AVCHROMA_LOC_LEFT,
  AVCOL_PRI_BT709,
  AVCOL_RANGE_JPEG,
  AVCOL_RANGE_MPEG,
  AVCOL_SPC_BT709,
  AVCOL_TRC_BT709,
} from 'node-av/constants';
import { FFmpegError, Frame } from 'node-av/lib';

/** A native 4:2:0 frame of this size with its own memory, tagged Rec. 709. */
export function createNativeFrame(widthPx: number, heightPx: number, range: Recipe['encode']['range']): Frame {
  const frame = new Frame();
  frame.alloc();
  frame.width = widthPx;
  frame.height = heightPx;
  frame.format = AV_PIX_FMT_YUV420P;
  FFmpegError.throwIfError(frame.getBuffer(32), 'memory for a picture');
  frame.colorRange = range === 'full' ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG;
  frame.colorSpace = AVCOL_SPC_BT709;
  frame.colorPrimaries = AVCOL_PRI_BT709;
  frame.colorTrc = AVCOL_TRC_BT709;
  frame.chromaLocation = AVCHROMA_LOC_LEFT;
  return frame;
}

/** Copies a picture into a native frame, line by line only where the native lines are longer. */
export function fillNativeFrame(frame: Frame, picture: Picture420): void {
  const planes = frame.data;
  if (!planes) throw new Error('a native frame has no memory');
  copyPlane(planes[0], frame.linesize[0], picture.y, picture.widthPx, picture.heightPx, true);
  copyPlane(planes[1], frame.linesize[1], picture.u, picture.widthPx / 2, picture.heightPx / 2, true);
  copyPlane(planes[2], frame.linesize[2], picture.v, picture.widthPx / 2, picture.heightPx / 2, true);
}

/** Copies a native frame into a picture in shared memory. */
export function readNativeFrame(frame: Frame, picture: Picture420): void {
  const planes = frame.data;
  if (!planes) throw new Error('a native frame has no memory');
  copyPlane(planes[0], frame.linesize[0], picture.y, picture.widthPx, picture.heightPx, false);
  copyPlane(planes[1], frame.linesize[1], picture.u, picture.widthPx / 2, picture.heightPx / 2, false);
  copyPlane(planes[2], frame.linesize[2], picture.v, picture.widthPx / 2, picture.heightPx / 2, false);
}

function copyPlane(
  native: Buffer | undefined,
  stride: number | undefined,
  plane: Uint8Array,
  width: number,
  height: number,
  toNative: boolean,
): void {
  if (!native || !stride) throw new Error('a native frame has no such plane');
  if (stride === width) {
    if (toNative) native.set(plane.subarray(0, width * height));
    else plane.set(native.subarray(0, width * height));
    return;
  }
  for (let row = 0; row < height; row++) {
    if (toNative) native.set(plane.subarray(row * width, (row + 1) * width), row * stride);
    else plane.set(native.subarray(row * stride, row * stride + width), row * width);
  }
}
