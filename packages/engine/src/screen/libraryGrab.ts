import { Dictionary, FFmpegError, FormatContext, Frame, InputFormat, Packet } from 'node-av/lib';
import type { SizePx } from '@mellow/core';
import { openPictureDecoder, pictureTrack } from '../media/decodedPictures';
import { openFittingFilter } from '../media/fittingFilter';
import { pixelLayout } from '../media/pixelLayout';
import { readNativeFrame } from '../media/pictureFrames';
import { requireNative } from '../media/requireNative';
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
  const bytes = widthPx * heightPx * 4;
  const turned = how.format === 'x11grab' ? null : openTurner(input, how, { widthPx, heightPx });
  return {
    widthPx,
    heightPx,
    next() {
      packet.unref();
      if (input.readFrameSync(packet) < 0) return null;
      if (turned) return turned.of(packet);
      const data = packet.data;
      return data && data.length >= bytes ? data.subarray(0, bytes) : null;
    },
    close() {
      packet.free();
      turned?.free();
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
      reasons.push(`${way.name}: ${error instanceof Error ? error.message : String(error)}`);
    }
  throw new Error(ways.length === 1 ? (reasons[0] ?? '').replace(/^[^:]*: /, '') : reasons.join('; '));
}

function openTurner(input: FormatContext, { crop }: GrabInput, { widthPx, heightPx }: SizePx) {
  const stream = pictureTrack(input);
  const decoder = openPictureDecoder(stream, 1);
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
