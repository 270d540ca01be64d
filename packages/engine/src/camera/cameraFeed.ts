import { AVERROR_EAGAIN, AVFMT_FLAG_NONBLOCK } from 'node-av/constants';
import { Dictionary, FFmpegError, FormatContext, Frame, InputFormat, Packet, type CodecContext } from 'node-av/lib';
import type { Camera, CameraInput } from '@mellow/model';
import { drawStandInCamera, pictureOver } from '@mellow/practice';
import { openDecoder, pictureTrack } from '../reading/decodedPictures';
import { openFittingFilter } from '../size/fittingFilter';
import { readNativeFrame } from '../native/pictureFrames';
import type { PixelLayout } from '../native/pixelLayout';
import { requireNative } from '../native/requireNative';
import { nowUs, sleepUs } from '../shared/monotonic';

/** Pictures of a camera, in the size and kind that the recipe wants. */
export interface CameraFeed {
  /**
   * Waits a little for the next picture and puts it into the planes.
   * @returns when it was taken, on the monotonic clock; null where none came meanwhile
   * @throws with the library's reason where the camera is gone
   */
  next(into: readonly Buffer[]): number | null;
  close(): void;
}

/** Longest that nobody looks whether the take has ended. */
const waitUs = 50_000;
const againUs = 2000;

/** The drawn figure, on the clock: picture k at k periods after due 0. */
export function openStandInFeed({ fps }: Camera, layout: PixelLayout, zeroUs: () => number): CameraFeed {
  const memory = new SharedArrayBuffer(layout.bytes);
  const picture = pictureOver(memory, 0, layout.widthPx, layout.heightPx);
  let next: number | null = null;
  return {
    next(into) {
      const beginUs = zeroUs();
      if (!beginUs) {
        sleepUs(waitUs);
        return null;
      }
      // The first lies before due 0, so that one is there when the take begins.
      next ??= Math.min(-1, Math.ceil(((nowUs() - beginUs) * fps) / 1e6));
      const dueUs = beginUs + (next * 1e6) / fps;
      if (dueUs - nowUs() > waitUs) {
        sleepUs(waitUs);
        return null;
      }
      drawStandInCamera(picture, Math.max(0, next), fps);
      sleepUs(dueUs - nowUs());
      for (const [plane, from] of [picture.y, picture.u, picture.v].entries()) into[plane]?.set(from);
      next = Math.max(next + 1, Math.floor(((nowUs() - beginUs) * fps) / 1e6));
      return dueUs;
    },
    close: () => {},
  };
}

/** A camera that the library opens. @throws with its reason where it cannot be opened */
export function openDeviceFeed({ format, address, options }: CameraInput, layout: PixelLayout): CameraFeed {
  const { widthPx, heightPx } = layout;
  const chain = `scale=${widthPx}:${heightPx}:force_original_aspect_ratio=increase:out_color_matrix=bt709:out_range=tv,crop=${widthPx}:${heightPx},format=yuv420p`;
  const input = new FormatContext();
  input.allocContext();
  // Nobody can end a thread that waits inside the library.
  input.setFlags(AVFMT_FLAG_NONBLOCK);
  const device = requireNative(InputFormat.findInputFormat(format), `${format} devices`);
  FFmpegError.throwIfError(
    input.openInputSync(address, device, Dictionary.fromObject(options)),
    'the camera cannot be opened',
  );
  const stream = pictureTrack(input);
  const decoder: CodecContext = openDecoder(stream, 1);
  const packet = new Packet();
  packet.alloc();
  const [frame, converted] = [new Frame(), new Frame()];
  frame.alloc();
  converted.alloc();
  const filter = openFittingFilter(chain);
  return {
    next(into) {
      const untilUs = nowUs() + waitUs;
      for (;;) {
        const code = input.readFrameSync(packet);
        if (code === AVERROR_EAGAIN) {
          if (nowUs() > untilUs) return null;
          sleepUs(againUs);
          continue;
        }
        FFmpegError.throwIfError(code, 'the camera brings no pictures any more');
        const atUs = nowUs();
        if (packet.streamIndex === stream.index) decoder.sendPacketSync(packet);
        packet.unref();
        if (decoder.receiveFrameSync(frame) < 0) {
          if (nowUs() > untilUs) return null;
          continue;
        }
        filter.run(frame, converted);
        frame.unref();
        readNativeFrame(converted, into, layout);
        return atUs;
      }
    },
    close() {
      filter.free();
      decoder.freeContext();
      packet.free();
      frame.free();
      converted.free();
      input.closeInputSync();
    },
  };
}
