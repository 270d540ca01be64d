import { asFiled, encoderFacts, errorText } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import {
  AV_CODEC_FLAG_CLOSED_GOP,
  AV_CODEC_FLAG_GLOBAL_HEADER,
  AVCHROMA_LOC_LEFT,
  AVCOL_PRI_BT709,
  AVCOL_TRC_BT709,
  type FFEncoderCodec,
} from 'node-av/constants';
import { Codec, CodecContext, FFmpegError, Rational, type Frame, type Packet } from 'node-av/lib';
import { openCardUpload, type CardUpload } from './cardUpload';
import { candidatesOf, nativePixels } from '../native/encoderNames';
import { encoderOptions } from './encoderOptions';
import { fileTags } from '../native/pictureFrames';
import { setOptions } from '../native/setOptions';

/** An opened encoder; pictures go in and packets come out as the library's own calls answer. */
export interface PictureEncoder {
  /** Its parameters, for a container that wants them before the first packet. */
  header: Uint8Array | null;
  /** @param frame null: no more come @returns 0, or the library's negative error */
  send(frame: Frame | null): number;
  receive(into: Packet): number;
  free(): void;
}

/**
 * Opens the recipe's encoder. Time base = 1/rate: a picture's time stamp is its due index.
 * @param threads 0 lets the encoder choose
 * @throws with the library's reason where none of its candidates can be opened
 */
export function openPictureEncoder(recipe: Recipe, threads: number, globalHeader: boolean): PictureEncoder {
  // Several libraries' parts may say the same; whose they are says nothing to a person.
  const reasons = new Set<string>();
  for (const candidate of candidatesOf(recipe.encode)) {
    try {
      return openNative(candidate, recipe, threads, globalHeader);
    } catch (error) {
      reasons.add(errorText(error));
    }
  }
  throw new Error(`The encoder cannot be opened. ${[...reasons].join('; ')}`);
}

function openNative(name: FFEncoderCodec, recipe: Recipe, threads: number, globalHeader: boolean): PictureEncoder {
  const codec = Codec.findEncoderByName(name);
  if (!codec) throw new Error('the media libraries were built without it');
  const context = new CodecContext();
  context.allocContext3(codec);
  let upload: CardUpload | null = null;
  try {
    configure(context, recipe, threads, globalHeader);
    if (name.endsWith('_vaapi')) upload = openCardUpload(context, recipe);
    setOptions(context, encoderOptions(recipe, name));
    FFmpegError.throwIfError(context.open2Sync(codec, null), 'opening the encoder');
  } catch (error) {
    context.freeContext();
    upload?.free();
    throw error;
  }
  const header = context.extraData;
  return {
    header: header ? new Uint8Array(header) : null,
    send: (frame) => context.sendFrameSync(frame && upload ? upload.of(frame) : frame),
    receive: (into) => context.receivePacketSync(into),
    free() {
      context.freeContext();
      upload?.free();
    },
  };
}

function configure(context: CodecContext, recipe: Recipe, threads: number, globalHeader: boolean): void {
  const { encode, rate, size } = asFiled(recipe);
  const facts = encoderFacts[encode.encoder];
  context.width = size.widthPx;
  context.height = size.heightPx;
  context.pixelFormat = nativePixels(encode).format;
  context.timeBase = new Rational(rate.den, rate.num);
  context.framerate = new Rational(rate.num, rate.den);
  context.sampleAspectRatio = new Rational(1, 1);
  // Codecs without a distance make every picture a key picture.
  context.gopSize = facts.keyDistance ? encode.keyDistanceFrames : 1;
  if (facts.mostBFrames > 0) context.maxBFrames = encode.bFrames;
  context.threadCount = threads;
  const tags = fileTags(recipe);
  context.colorRange = tags.range;
  context.colorSpace = tags.matrix;
  context.colorPrimaries = AVCOL_PRI_BT709;
  context.colorTrc = AVCOL_TRC_BT709;
  context.chromaLocation = AVCHROMA_LOC_LEFT;
  if (globalHeader) context.setFlags(AV_CODEC_FLAG_GLOBAL_HEADER);
  if (encode.closedGroups && facts.keyDistance) context.setFlags(AV_CODEC_FLAG_CLOSED_GOP);
  const bitsPerSecond = BigInt(encode.bitrateKbps) * 1000n;
  if (encode.rateControl === 'constant-bitrate') {
    context.bitRate = bitsPerSecond;
    context.rcMaxRate = bitsPerSecond;
    context.rcMinRate = bitsPerSecond;
    context.rcBufferSize = Number(bitsPerSecond);
  } else if (encode.rateControl === 'variable-bitrate') {
    context.bitRate = bitsPerSecond;
    if (!facts.ceiling) return;
    context.rcMaxRate = BigInt(encode.ceilingKbps) * 1000n;
    context.rcBufferSize = encode.ceilingKbps * 1000;
  }
}
