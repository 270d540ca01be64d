import type { ChannelPlace } from '@mellow/model';

/** What each channel of a device gives to the left and to the right side. */
export interface StereoMix {
  left: readonly number[];
  right: readonly number[];
}

/** A source in the middle reaches both sides at half its power: 3 dB down (ITU-R BS.775-3, Annex 4, table 2). */
const half = Math.SQRT1_2;

const shares: Record<ChannelPlace, readonly [left: number, right: number]> = {
  mono: [1, 1],
  'front-left': [1, 0],
  'front-right': [0, 1],
  'front-center': [half, half],
  'side-left': [half, 0],
  'side-right': [0, half],
  'rear-left': [half, 0],
  'rear-right': [0, half],
  // One surround channel is heard from both sides, each at 0.7071 of 0.7071 (the same table, 3/1).
  'rear-center': [half * half, half * half],
  // The table leaves the low-frequency channel out: it only repeats what the others carry.
  lfe: [0, 0],
  other: [0, 0],
};

/**
 * Coefficients of ITU-R BS.775-3, Annex 4 for stereo out of any channels. A device that does not say where its channels stand is
 * taken as mono where it has one, and by its first two otherwise.
 */
export function stereoMix(channels: readonly ChannelPlace[]): StereoMix {
  const known = channels.some((place) => place !== 'other');
  const shareOf = (place: ChannelPlace, at: number): readonly [number, number] => {
    if (known) return shares[place];
    if (channels.length === 1) return shares.mono;
    return at === 0 ? shares['front-left'] : at === 1 ? shares['front-right'] : shares.other;
  };
  return {
    left: channels.map((place, at) => shareOf(place, at)[0]),
    right: channels.map((place, at) => shareOf(place, at)[1]),
  };
}

/** Mixes interleaved samples of any channels down to interleaved stereo. */
export function mixToStereo(samples: Float32Array, mix: StereoMix): Float32Array {
  const channels = Math.max(1, mix.left.length);
  const count = Math.floor(samples.length / channels);
  const stereo = new Float32Array(count * 2);
  for (let i = 0; i < count; i++) {
    let [left, right] = [0, 0];
    for (let channel = 0; channel < channels; channel++) {
      const value = samples[i * channels + channel] ?? 0;
      left += value * (mix.left[channel] ?? 0);
      right += value * (mix.right[channel] ?? 0);
    }
    stereo[i * 2] = left;
    stereo[i * 2 + 1] = right;
  }
  return stereo;
}
