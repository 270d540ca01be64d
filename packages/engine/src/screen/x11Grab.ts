import { Dictionary, FFmpegError, FormatContext, InputFormat, Packet } from 'node-av/lib';
import type { GrabbedSource } from '@mellow/model';
import { requireNative } from '../media/requireNative';

/** One picture after another from the X server, by the library's own device; each call grabs now. */
export interface ScreenGrab {
  readonly widthPx: number;
  readonly heightPx: number;
  /** The picture as blue, green, red and a byte unused, without padding; null where it cannot be had. */
  next(): Buffer | null;
  close(): void;
}

/** The device waits for its own rate between pictures; at this one it never does. */
const unpaced = '1000';

/**
 * Opens a grab of a place of the screen, or of a window by its id.
 * @throws where the place lies outside the screen or the window has gone
 */
export function openX11Grab(
  source: GrabbedSource,
  windowId: number | null,
  display = process.env.DISPLAY ?? '',
): ScreenGrab {
  const { widthPx, heightPx } = source;
  const format = requireNative(InputFormat.findInputFormat('x11grab'), 'grabber of X11');
  const input = new FormatContext();
  const place =
    windowId === null
      ? { grab_x: String(source.leftPx), grab_y: String(source.topPx) }
      : { window_id: String(windowId) };
  const options = Dictionary.fromObject({
    framerate: unpaced,
    video_size: `${widthPx}x${heightPx}`,
    draw_mouse: source.pointer ? '1' : '0',
    ...place,
  });
  FFmpegError.throwIfError(input.openInputSync(display, format, options), 'the screen cannot be grabbed');
  const packet = new Packet();
  packet.alloc();
  const bytes = widthPx * heightPx * 4;
  return {
    widthPx,
    heightPx,
    next() {
      packet.unref();
      if (input.readFrameSync(packet) < 0) return null;
      const data = packet.data;
      return data && data.length >= bytes ? data.subarray(0, bytes) : null;
    },
    close() {
      packet.free();
      input.closeInputSync();
    },
  };
}
