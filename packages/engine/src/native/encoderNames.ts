import type { EncoderName, PixelKind, Recipe } from '@mellow/model';
import {
  AV_CODEC_ID_AV1,
  AV_CODEC_ID_FFV1,
  AV_CODEC_ID_H264,
  AV_CODEC_ID_HEVC,
  AV_CODEC_ID_MJPEG,
  AV_CODEC_ID_UTVIDEO,
  AV_CODEC_ID_VP9,
  AV_PIX_FMT_BGR0,
  AV_PIX_FMT_BGR24,
  AV_PIX_FMT_GBRP,
  AV_PIX_FMT_NV12,
  AV_PIX_FMT_P010LE,
  AV_PIX_FMT_YUV420P,
  AV_PIX_FMT_YUV420P10LE,
  AV_PIX_FMT_YUV444P,
  AV_PIX_FMT_YUVJ420P,
  FF_ENCODER_AV1_AMF,
  FF_ENCODER_AV1_NVENC,
  FF_ENCODER_AV1_VAAPI,
  FF_ENCODER_FFV1,
  FF_ENCODER_H264_AMF,
  FF_ENCODER_H264_NVENC,
  FF_ENCODER_H264_QSV,
  FF_ENCODER_H264_VAAPI,
  FF_ENCODER_H264_VIDEOTOOLBOX,
  FF_ENCODER_HEVC_AMF,
  FF_ENCODER_HEVC_NVENC,
  FF_ENCODER_HEVC_QSV,
  FF_ENCODER_HEVC_VAAPI,
  FF_ENCODER_HEVC_VIDEOTOOLBOX,
  FF_ENCODER_LIBSVTAV1,
  FF_ENCODER_LIBVPX_VP9,
  FF_ENCODER_LIBX264,
  FF_ENCODER_LIBX264RGB,
  FF_ENCODER_LIBX265,
  FF_ENCODER_MJPEG,
  FF_ENCODER_UTVIDEO,
  type AVCodecID,
  type AVPixelFormat,
  type FFEncoderCodec,
} from 'node-av/constants';
import type { LayoutName } from './pixelLayout';

/** A layout of samples by the library's number and name. */
export interface NativePixels {
  format: AVPixelFormat;
  name: LayoutName;
}

export interface NativeEncoder {
  /** The libraries' encoders for this one, the first that opens is used. */
  candidates: readonly FFEncoderCodec[];
  codecId: AVCodecID;
  /** The layout of samples that each kind of pixel has for this encoder, with the filter library's name. */
  pixels: Partial<Record<PixelKind, NativePixels>>;
}

const planar420: NativePixels = { format: AV_PIX_FMT_YUV420P, name: 'yuv420p' };
const planar444: NativePixels = { format: AV_PIX_FMT_YUV444P, name: 'yuv444p' };
const planarRgb: NativePixels = { format: AV_PIX_FMT_GBRP, name: 'gbrp' };
const planar10: NativePixels = { format: AV_PIX_FMT_YUV420P10LE, name: 'yuv420p10le' };
const halfPlanar10: NativePixels = { format: AV_PIX_FMT_P010LE, name: 'p010le' };
const halfPlanar: NativePixels = { format: AV_PIX_FMT_NV12, name: 'nv12' };

/** Our encoders in the libraries' terms. What each of them can do stands in the core's table. */
export const nativeEncoders: Record<EncoderName, NativeEncoder> = {
  'avc-software': {
    candidates: [FF_ENCODER_LIBX264],
    codecId: AV_CODEC_ID_H264,
    pixels: {
      '4:2:0': planar420,
      '4:2:0-10': planar10,
      '4:4:4': planar444,
      rgb: { format: AV_PIX_FMT_BGR24, name: 'bgr24' },
    },
  },
  'hevc-software': {
    candidates: [FF_ENCODER_LIBX265],
    codecId: AV_CODEC_ID_HEVC,
    pixels: { '4:2:0': planar420, '4:2:0-10': planar10, '4:4:4': planar444, rgb: planarRgb },
  },
  'av1-software': {
    candidates: [FF_ENCODER_LIBSVTAV1],
    codecId: AV_CODEC_ID_AV1,
    pixels: { '4:2:0': planar420, '4:2:0-10': planar10 },
  },
  'vp9-software': {
    candidates: [FF_ENCODER_LIBVPX_VP9],
    codecId: AV_CODEC_ID_VP9,
    pixels: { '4:2:0': planar420, '4:2:0-10': planar10, '4:4:4': planar444, rgb: planarRgb },
  },
  'ffv1-software': {
    candidates: [FF_ENCODER_FFV1],
    codecId: AV_CODEC_ID_FFV1,
    pixels: {
      '4:2:0': planar420,
      '4:2:0-10': planar10,
      '4:4:4': planar444,
      rgb: { format: AV_PIX_FMT_BGR0, name: 'bgr0' },
    },
  },
  'utvideo-software': {
    candidates: [FF_ENCODER_UTVIDEO],
    codecId: AV_CODEC_ID_UTVIDEO,
    pixels: { '4:2:0': planar420, '4:4:4': planar444, rgb: planarRgb },
  },
  'mjpeg-software': {
    candidates: [FF_ENCODER_MJPEG],
    codecId: AV_CODEC_ID_MJPEG,
    pixels: { '4:2:0': { format: AV_PIX_FMT_YUVJ420P, name: 'yuvj420p' } },
  },
  'avc-card': {
    candidates: [FF_ENCODER_H264_NVENC, FF_ENCODER_H264_AMF, FF_ENCODER_H264_VIDEOTOOLBOX, FF_ENCODER_H264_VAAPI],
    codecId: AV_CODEC_ID_H264,
    pixels: { '4:2:0': planar420 },
  },
  'hevc-card': {
    candidates: [FF_ENCODER_HEVC_NVENC, FF_ENCODER_HEVC_AMF, FF_ENCODER_HEVC_VIDEOTOOLBOX, FF_ENCODER_HEVC_VAAPI],
    codecId: AV_CODEC_ID_HEVC,
    pixels: { '4:2:0': planar420, '4:2:0-10': halfPlanar10 },
  },
  'av1-card': {
    candidates: [FF_ENCODER_AV1_NVENC, FF_ENCODER_AV1_AMF, FF_ENCODER_AV1_VAAPI],
    codecId: AV_CODEC_ID_AV1,
    pixels: { '4:2:0': planar420, '4:2:0-10': halfPlanar10 },
  },
  'avc-processor-graphics': {
    candidates: [FF_ENCODER_H264_QSV],
    codecId: AV_CODEC_ID_H264,
    pixels: { '4:2:0': halfPlanar },
  },
  'hevc-processor-graphics': {
    candidates: [FF_ENCODER_HEVC_QSV],
    codecId: AV_CODEC_ID_HEVC,
    pixels: { '4:2:0': halfPlanar, '4:2:0-10': halfPlanar10 },
  },
};

/** RGB needs another of the libraries' encoders for AVC. */
export const candidatesOf = (encode: Recipe['encode']): readonly FFEncoderCodec[] =>
  encode.encoder === 'avc-software' && encode.pixels === 'rgb'
    ? [FF_ENCODER_LIBX264RGB]
    : nativeEncoders[encode.encoder].candidates;

/** @throws where the encoder does not take such pixels; the checks say so before */
export function nativePixels(encode: Recipe['encode']): NativePixels {
  const found = nativeEncoders[encode.encoder].pixels[encode.pixels];
  if (!found) throw new Error(`this encoder does not take ${encode.pixels}`);
  return found;
}

export const fourCharacters = (text: string): number => Buffer.from(text, 'latin1').readUInt32LE(0);

/** Ut Video by the matrix of its samples: H stands for Rec. 709, Y for Rec. 601. */
const utVideoTags: Record<'bt709' | 'bt601', Partial<Record<PixelKind, string>>> = {
  bt709: { '4:2:0': 'ULH0', '4:4:4': 'ULH4', rgb: 'ULRG' },
  bt601: { '4:2:0': 'ULY0', '4:4:4': 'ULY4', rgb: 'ULRG' },
};

/**
 * The four characters a track must carry, 0 where the container's own choice is right. HEVC in MP4: 'hvc1', parameter sets in the
 * sample entry (ISO/IEC 14496-15), which more players take than 'hev1'. Ut Video: its kind of samples and its matrix stand there only.
 */
export function trackTag({ encode, container }: Pick<Recipe, 'encode' | 'container'>): number {
  if (nativeEncoders[encode.encoder].codecId === AV_CODEC_ID_HEVC && container !== 'matroska')
    return fourCharacters('hvc1');
  if (encode.encoder !== 'utvideo-software') return 0;
  return fourCharacters(utVideoTags[encode.matrix][encode.pixels] ?? 'ULH0');
}
