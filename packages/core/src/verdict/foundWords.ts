import type { Container, Lane, PixelKind, Take } from '@mellow/model';
import type { Standard } from '../codec/encoders';

type FoundPicture = NonNullable<Take['facts']>['picture'];

/** Names that the media library gives the codecs which our encoders and lanes make. */
export const codecOfStandard: Record<Standard, string> = {
  AVC: 'h264',
  HEVC: 'hevc',
  AV1: 'av1',
  VP9: 'vp9',
  FFV1: 'ffv1',
  'Ut Video': 'utvideo',
  'Motion JPEG': 'mjpeg',
};
export const codecOfLane: Record<Lane['codec'], string> = { flac: 'flac', aac: 'aac', opus: 'opus', pcm: 'pcm_s16le' };
const laneNames: Record<string, string> = { flac: 'FLAC', aac: 'AAC', opus: 'Opus', pcm_s16le: 'PCM' };

/** What a reader calls the containers; a fragmented MP4 is an MP4 to it. */
export const formatOfContainer: Record<Container, string> = {
  matroska: 'matroska',
  'fragmented-mp4': 'mp4',
  mp4: 'mp4',
};

export function standardOf(codec: string): string {
  const found = Object.entries(codecOfStandard).find(([, name]) => name === codec);
  return found?.[0] ?? codec;
}

export const laneCodecName = (codec: string): string => laneNames[codec] ?? codec;

/** Kind of pixel of a layout that a file's head names; null for one that no encoder here makes. */
export function pixelKindOf(pixelFormat: string): PixelKind | null {
  if (/^(yuvj?420p|nv12)$/.test(pixelFormat)) return '4:2:0';
  if (/^(yuv420p10le|p010le)$/.test(pixelFormat)) return '4:2:0-10';
  if (/^yuvj?444p$/.test(pixelFormat)) return '4:4:4';
  return /^(gbrp|bgr24|rgb24|bgr0|0rgb|rgb0|0bgr|bgra)$/.test(pixelFormat) ? 'rgb' : null;
}

/**
 * The level as people say it: AVC carries 10 x the level (ITU-T H.264, 7.4.2.1.1), HEVC 30 x (ITU-T H.265, 7.4.4), AV1 an
 * index whose upper part is the level less 2 (AV1 specification, A.3). Null where the codec has none, or it is not told.
 */
export function levelWords({ codec, level }: Pick<FoundPicture, 'codec' | 'level'>): string | null {
  if (level < 0) return null;
  if (codec === 'h264') return level === 9 ? '1b' : (level / 10).toFixed(1).replace(/\.0$/, '');
  if (codec === 'hevc') return (level / 30).toFixed(1).replace(/\.0$/, '');
  if (codec === 'av1') return level === 31 ? null : `${2 + (level >> 2)}.${level & 3}`;
  return null;
}
