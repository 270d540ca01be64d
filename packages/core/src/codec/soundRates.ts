import type { Lane, SoundInput, SoundSource } from '@mellow/model';

/** Sound is 48 kHz stereo everywhere. */
export const sampleRateHz = 48_000;
export const soundChannels = 2;

/** PCM 48 kHz 16 bit stereo: 1 536 kb/s (48 000 x 16 x 2). */
export const pcmBitsPerSecond = sampleRateHz * 16 * soundChannels;

export interface LaneBits {
  value: number;
  low: number;
  high: number;
}

/**
 * Bits a second of one lane: exact for PCM, the set rate for AAC and Opus. FLAC follows the sound, and has a range
 * (docs/model.md, "Sizes").
 */
export function laneBits(
  lane: Pick<Lane, 'codec' | 'bitrateKbps' | 'sources'>,
  sounds: readonly Pick<SoundInput, 'id' | 'from'>[],
): LaneBits {
  if (lane.codec === 'flac') {
    const { value, low, high } = flacShare(partsOf(lane.sources, sounds));
    return { value: pcmBitsPerSecond * value, low: pcmBitsPerSecond * low, high: pcmBitsPerSecond * high };
  }
  const value = lane.codec === 'pcm' ? pcmBitsPerSecond : lane.bitrateKbps * 1000;
  return { value, low: value, high: value };
}

/** The lanes' sum; what is uncertain of them is uncertain together, as they often hold the same sound. */
export const lanesBits = (lanes: readonly Lane[], sounds: readonly Pick<SoundInput, 'id' | 'from'>[]): LaneBits =>
  lanes
    .map((lane) => laneBits(lane, sounds))
    .reduce((sum, { value, low, high }) => ({ value: sum.value + value, low: sum.low + low, high: sum.high + high }), {
      value: 0,
      low: 0,
      high: 0,
    });

/** Silence needs next to nothing, loud music seven tenths (common practice). */
const anySound: LaneBits = { value: 0.45, low: 0.1, high: 0.7 };

type PracticePart = 'game' | 'voice' | 'chat';

/** The practice game's sounds on a lane; null where another is among them. */
function partsOf(
  sources: readonly SoundSource[],
  sounds: readonly Pick<SoundInput, 'id' | 'from'>[],
): PracticePart[] | null {
  const parts = sources.map((source) => {
    const from = sounds.find(({ id }) => id === source)?.from;
    return from?.kind === 'practice' ? from.part : null;
  });
  return parts.includes(null) ? null : (parts as PracticePart[]);
}

/** Share of PCM that FLAC needs: sounds that ship with the application were measured, of others nothing is known. */
function flacShare(parts: readonly PracticePart[] | null): LaneBits {
  if (!parts) return anySound;
  if (!parts.includes('game')) return parts.includes('voice') ? around(0.2) : around(0.16);
  return parts.length > 1 ? around(0.385) : around(0.335);
}

/** They differ by some per cent with the length of a take, as speech has pauses. */
function around(value: number): LaneBits {
  return { value, low: value * 0.92, high: value * 1.08 };
}
