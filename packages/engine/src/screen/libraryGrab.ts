import { Dictionary, FFmpegError, FormatContext, Frame, InputFormat, Packet } from 'node-av/lib';
import type { SizePx } from '@mellow/core';
import { errorText } from '@mellow/core';
import { openDecoder, pictureTrack } from '../reading/decodedPictures';
import { openFittingFilter } from '../size/fittingFilter';
import { pixelLayout } from '../native/pixelLayout';
import { readNativeFrame } from '../native/pictureFrames';
import { requireNative } from '../native/requireNative';
import type { GrabInput } from './grabTable';

/** One picture after another from the screen; each call grabs now. */
export interface ScreenGrab {
  readonly widthPx: number;
  readonly heightPx: number;
  /** The picture as blue, green, red and a byte unused, without padding; null where it cannot be had. */
  next(): Buffer | null;
  close(): void;
}

/**
 * Opens one way of getting pictures of the screen. What already comes as blue, green, red and a byte unused is handed on as it
 * is, everything else is turned into that, and into the size that is wanted.
 * @throws with the library's reason where it cannot be opened
 */
export function openLibraryGrab(how: GrabInput, { widthPx, heightPx }: SizePx): ScreenGrab {
  const format = requireNative(InputFormat.findInputFormat(how.format), `grabber ${how.format}`);
  const input = new FormatContext();
  FFmpegError.throwIfError(
    input.openInputSync(how.address, format, Dictionary.fromObject(how.options)),
    'the screen cannot be grabbed',
  );
  const packet = new Packet();
  packet.alloc();
  const pixels =
    how.format === 'x11grab'
      ? openUnwrapper(input, { widthPx, heightPx })
      : openTurner(input, how, { widthPx, heightPx });
  return {
    widthPx,
    heightPx,
    next() {
      packet.unref();
      if (input.readFrameSync(packet) < 0) return null;
      return pixels.of(packet);
    },
    close() {
      packet.free();
      pixels.free();
      input.closeInputSync();
    },
  };
}

/** Opens the first of several ways that can be opened. @throws with the reasons of all where none can */
export function openFirstGrab(ways: readonly GrabInput[], size: SizePx): ScreenGrab {
  const reasons: string[] = [];
  for (const way of ways)
    try {
      return openLibraryGrab(way, size);
    } catch (error) {
      reasons.push(`${way.name}: ${errorText(error)}`);
    }
  throw new Error(ways.length === 1 ? (reasons[0] ?? '').replace(/^[^:]*: /, '') : reasons.join('; '));
}

/** Pixels of one packet after another, good until the next. */
interface Unwrapper {
  of(packet: Packet): Buffer | null;
  free(): void;
}

/**
 * Asked for a packet's bytes, the library copies each picture into new memory of the runtime, which keeps a dozen of them until
 * it collects its garbage. Its decoder of bare pixels hands on the packet's own memory, copied natively into one place here.
 */
function openUnwrapper(input: FormatContext, { widthPx, heightPx }: SizePx): Unwrapper {
  const decoder = openDecoder(pictureTrack(input), 1);
  const [frame, kept] = [new Frame(), new Frame()];
  frame.alloc();
  kept.alloc();
  let pixels: Buffer | null = null;
  /** Lines without padding between them. */
  const openKept = (): Buffer => {
    [kept.width, kept.height, kept.format] = [widthPx, heightPx, frame.format];
    FFmpegError.throwIfError(kept.getBuffer(1), 'memory for a picture');
    const [plane, stride] = [kept.data?.[0], kept.linesize[0]];
    if (!plane || stride !== widthPx * 4) throw new Error(`lines of ${stride} bytes for ${widthPx} pixels`);
    return plane.subarray(0, widthPx * heightPx * 4);
  };
  return {
    of(packet) {
      if (decoder.sendPacketSync(packet) < 0 || decoder.receiveFrameSync(frame) < 0) return null;
      pixels ??= openKept();
      // A smaller picture would leave part of the one before in place.
      const fits = frame.width === widthPx && frame.height === heightPx;
      const copied = fits && kept.copy(frame) >= 0;
      frame.unref();
      return copied ? pixels : null;
    },
    free() {
      decoder.freeContext();
      frame.free();
      kept.free();
    },
  };
}

function openTurner(input: FormatContext, { crop }: GrabInput, { widthPx, heightPx }: SizePx): Unwrapper {
  const stream = pictureTrack(input);
  const decoder = openDecoder(stream, 1);
  const layout = pixelLayout('bgr0', widthPx, heightPx, false);
  const into = Buffer.alloc(layout.bytes);
  const [frame, turned] = [new Frame(), new Frame()];
  frame.alloc();
  turned.alloc();
  const cut = crop ? `crop=${crop.widthPx}:${crop.heightPx}:${crop.leftPx}:${crop.topPx},` : '';
  const chain = `${cut}scale=${widthPx}:${heightPx}:flags=bilinear:out_range=pc,format=bgr0`;
  const filter = openFittingFilter(chain);
  return {
    of(packet: Packet): Buffer | null {
      if (packet.streamIndex !== stream.index) return null;
      decoder.sendPacketSync(packet);
      if (decoder.receiveFrameSync(frame) < 0) return null;
      filter.run(frame, turned);
      frame.unref();
      readNativeFrame(turned, [into], layout);
      return into.subarray(0, widthPx * heightPx * 4);
    },
    free(): void {
      filter.free();
      decoder.freeContext();
      frame.free();
      turned.free();
    },
  };
}
