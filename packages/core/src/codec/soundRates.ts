import type { Lane } from '@mellow/model';

/** Sound is 48 kHz stereo everywhere. */
export const sampleRateHz = 48_000;
export const soundChannels = 2;

/** PCM 48 kHz 16 bit stereo: 1 536 kb/s (48 000 x 16 x 2). */
export const pcmBitsPerSecond = sampleRateHz * 16 * soundChannels;

/**
 * Bits a second of one lane: exact for PCM, the set rate for AAC and Opus.
 * FLAC follows the sound; two thirds of PCM is a usual share, so it is an estimate ("common practice").
 */
export function laneBitsPerSecond(lane: Pick<Lane, 'codec' | 'bitrateKbps'>): number {
  if (lane.codec === 'pcm') return pcmBitsPerSecond;
  if (lane.codec === 'flac') return (pcmBitsPerSecond * 2) / 3;
  return lane.bitrateKbps * 1000;
}
