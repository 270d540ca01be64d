import type { Lane } from '@mellow/model';

/** Sound is 48 kHz stereo everywhere. */
export const sampleRateHz = 48_000;
export const soundChannels = 2;

/** PCM 48 kHz 16 bit stereo: 1 536 kb/s (48 000 x 16 x 2). */
export const pcmBitsPerSecond = sampleRateHz * 16 * soundChannels;

/**
 * Bits a second of one lane: exact for PCM, the set rate for AAC and Opus.
 * FLAC follows the sound: a third of PCM for one voice or a quiet game, up to two thirds for loud music (docs/model.md, "Sizes").
 */
export function laneBitsPerSecond(lane: Pick<Lane, 'codec' | 'bitrateKbps'>): number {
  if (lane.codec === 'pcm') return pcmBitsPerSecond;
  if (lane.codec === 'flac') return pcmBitsPerSecond * flacShare.usual;
  return lane.bitrateKbps * 1000;
}

const flacShare = { low: 0.2, usual: 0.4, high: 0.7 };

/** The same with what is uncertain: only FLAC has a range. */
export function laneBitsRange(lane: Pick<Lane, 'codec' | 'bitrateKbps'>): { low: number; high: number } {
  const value = laneBitsPerSecond(lane);
  if (lane.codec !== 'flac') return { low: value, high: value };
  return { low: pcmBitsPerSecond * flacShare.low, high: pcmBitsPerSecond * flacShare.high };
}
