import { readdirSync } from 'node:fs';
import { AV_HWDEVICE_TYPE_VAAPI, AV_PIX_FMT_NV12, AV_PIX_FMT_P010LE, AV_PIX_FMT_VAAPI } from 'node-av/constants';
import { FFmpegError, Frame, HardwareDeviceContext, HardwareFramesContext, type CodecContext } from 'node-av/lib';
import type { Recipe } from '@mellow/model';

/** Brings pictures from memory onto a card that takes no others. */
export interface CardUpload {
  /** The card's own copy of a picture; good until the next is asked for. @throws with the library's reason */
  of(picture: Frame): Frame;
  free(): void;
}

/** Pictures that a card keeps of its own, besides those it encodes. */
const keptOnCard = 24;

/** Render nodes of Linux' cards in the order of their numbers. */
function renderNodes(): string[] {
  try {
    return readdirSync('/dev/dri')
      .filter((name) => name.startsWith('renderD'))
      .toSorted()
      .map((name) => `/dev/dri/${name}`);
  } catch {
    return [];
  }
}

/**
 * Opens a card by VAAPI (the usual way of Linux to blocks of graphics cards) and ties an encoder to it, before that is opened.
 * Written from the library's documentation; no card was at hand.
 * @throws in words where there is no such card, or it takes no pictures of this kind
 */
export function openCardUpload(encoder: CodecContext, { encode }: Recipe): CardUpload {
  const nodes = renderNodes();
  const node = nodes[encode.card ?? 0];
  if (!node)
    throw new Error(
      nodes.length
        ? `there are ${nodes.length} graphics cards, not ${(encode.card ?? 0) + 1}`
        : 'no graphics card is known here',
    );
  const device = new HardwareDeviceContext();
  FFmpegError.throwIfError(device.create(AV_HWDEVICE_TYPE_VAAPI, node, null), `the card at ${node}`);
  const frames = new HardwareFramesContext();
  frames.alloc(device);
  frames.format = AV_PIX_FMT_VAAPI;
  frames.swFormat = encode.pixels === '4:2:0-10' ? AV_PIX_FMT_P010LE : AV_PIX_FMT_NV12;
  frames.width = encoder.width;
  frames.height = encoder.height;
  frames.initialPoolSize = keptOnCard;
  FFmpegError.throwIfError(frames.init(), 'pictures on the card');
  encoder.pixelFormat = AV_PIX_FMT_VAAPI;
  encoder.hwFramesCtx = frames;
  const onCard = new Frame();
  onCard.alloc();
  return {
    of(picture) {
      onCard.unref();
      FFmpegError.throwIfError(frames.getBuffer(onCard, 0), 'a picture on the card');
      FFmpegError.throwIfError(frames.transferDataSync(onCard, picture), 'bringing a picture onto the card');
      onCard.pts = picture.pts;
      return onCard;
    },
    free() {
      onCard.free();
      frames.free();
      device.free();
    },
  };
}
