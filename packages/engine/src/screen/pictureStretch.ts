import type { SizePx } from '@mellow/core';
import { AV_PIX_FMT_BGR0, SWS_BILINEAR } from 'node-av/constants';
import { FFmpegError, SoftwareScaleContext } from 'node-av/lib';

/** Scales blue, green and red from one size to another: a window that was resized, into the frame that its take began with. */
export function createPictureStretch(from: SizePx, to: SizePx): { run(picture: Buffer): Buffer; free(): void } {
  const scaler = new SoftwareScaleContext();
  scaler.getContext(
    from.widthPx,
    from.heightPx,
    AV_PIX_FMT_BGR0,
    to.widthPx,
    to.heightPx,
    AV_PIX_FMT_BGR0,
    SWS_BILINEAR,
  );
  // The scaler may write a little past the end of a line.
  const bytes = to.widthPx * to.heightPx * 4;
  const into = Buffer.alloc(bytes + 4096);
  return {
    run(picture) {
      const code = scaler.scaleSync([picture], [from.widthPx * 4], 0, from.heightPx, [into], [to.widthPx * 4]);
      FFmpegError.throwIfError(code, 'scaling a window');
      return into.subarray(0, bytes);
    },
    free: () => scaler.freeContext(),
  };
}
