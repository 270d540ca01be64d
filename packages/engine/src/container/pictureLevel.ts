import { vp9Level } from '@mellow/core';
import type { FrameRate } from '@mellow/model';
import { AV_CODEC_ID_VP9 } from 'node-av/constants';
import type { CodecParameters } from 'node-av/lib';

/**
 * Tells a container the level of a VP9 track, which is in none of its packets: the box of MP4 (vpcC) would be written without the
 * frame rate, and too low. Others are read from their packets.
 */
export function tellPictureLevel(parameters: CodecParameters, rate: FrameRate): void {
  if (parameters.codecId !== AV_CODEC_ID_VP9) return;
  const level = vp9Level({ widthPx: parameters.width, heightPx: parameters.height }, rate, 0);
  if (level) parameters.level = level.code;
}
