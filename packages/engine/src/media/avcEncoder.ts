import type { Effort, Recipe } from '@mellow/model';
import {
  AV_CODEC_FLAG_CLOSED_GOP, AV_CODEC_FLAG_GLOBAL_HEADER, AV_PIX_FMT_YUV420P, AVCHROMA_LOC_LEFT, AVCOL_PRI_BT709, AVCOL_RANGE_JPEG,
  AVCOL_RANGE_MPEG, AVCOL_SPC_BT709, AVCOL_TRC_BT709, FF_ENCODER_LIBX264,
} from 'node-av/constants';
import { Codec, CodecContext, FFmpegError, Rational } from 'node-av/lib';
import { requireNative } from './requireNative';
import { setOptions } from './setOptions';

/** The software encoder's presets for our rungs. */
const presets: Record<Effort, string> = {
  lightest: 'ultrafast',
  light: 'superfast',
  middle: 'veryfast',
  thorough: 'fast',
  'most-thorough': 'medium',
};

/** The private options of the encoder for a recipe; the benchmark's bare loop uses the same. */
export function avcOptions(recipe: Recipe): Record<string, string> {
  const { encode } = recipe;
  const options: Record<string, string> = { preset: presets[encode.effort] };
  if (encode.lowDelay) options['tune'] = 'zerolatency';
  if (encode.rateControl === 'constant-quality') options['crf'] = String(encode.quality);
  if (encode.rateControl === 'constant-bitrate') options['nal-hrd'] = 'cbr';
  return options;
}

/**
 * Opens the AVC software encoder. Time base = 1/rate: a picture's time stamp is its due index.
 * @param threads 0 lets the encoder choose
 * @throws with the library's reason where it cannot be opened
 */
export function openAvcEncoder(recipe: Recipe, threads: number, globalHeader: boolean): CodecContext {
  const codec = requireNative(Codec.findEncoderByName(FF_ENCODER_LIBX264), 'AVC software encoder');
  const context = new CodecContext();
  context.allocContext3(codec);
  const { encode, rate, size } = recipe;
  context.width = size.widthPx;
  context.height = size.heightPx;
  context.pixelFormat = AV_PIX_FMT_YUV420P;
  context.timeBase = new Rational(rate.den, rate.num);
  context.framerate = new Rational(rate.num, rate.den);
  context.sampleAspectRatio = new Rational(1, 1);
  context.gopSize = encode.keyDistanceFrames;
  context.maxBFrames = encode.bFrames;
  context.threadCount = threads;
  context.colorRange = encode.range === 'full' ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG;
  context.colorSpace = AVCOL_SPC_BT709;
  context.colorPrimaries = AVCOL_PRI_BT709;
  context.colorTrc = AVCOL_TRC_BT709;
  context.chromaLocation = AVCHROMA_LOC_LEFT;
  if (globalHeader) context.setFlags(AV_CODEC_FLAG_GLOBAL_HEADER);
  if (encode.closedGroups) context.setFlags(AV_CODEC_FLAG_CLOSED_GOP);
  const bitsPerSecond = BigInt(encode.bitrateKbps) * 1000n;
  if (encode.rateControl === 'constant-bitrate') {
    context.bitRate = bitsPerSecond;
    context.rcMaxRate = bitsPerSecond;
    context.rcMinRate = bitsPerSecond;
    context.rcBufferSize = Number(bitsPerSecond);
  } else if (encode.rateControl === 'variable-bitrate') {
    context.bitRate = bitsPerSecond;
    context.rcMaxRate = BigInt(encode.ceilingKbps) * 1000n;
    context.rcBufferSize = encode.ceilingKbps * 1000;
  }
  setOptions(context, avcOptions(recipe));
  FFmpegError.throwIfError(context.open2Sync(codec, null), 'opening the AVC encoder');
  return context;
}
