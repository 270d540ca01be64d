/** Full scale at 0; quieter than -100 dBFS counts as silence. */
const silentPeak = 1e-5;

export const dbOf = (amplitude: number): number | null => (amplitude > silentPeak ? 20 * Math.log10(amplitude) : null);

/** What a gain multiplies samples by. */
export const amplitudeOf = (db: number): number => 10 ** (db / 20);

/** Seconds of silence that were put in for a sound are told from here on. */
export const noticedSilenceS = 0.05;

/** Highest value of samples, 0 to 1 and above. */
export function peakOf(samples: ArrayLike<number>): number {
  let peak = 0;
  for (let i = 0; i < samples.length; i++) peak = Math.max(peak, Math.abs(samples[i] ?? 0));
  return peak;
}

/** Root of the mean square of samples. */
export function rmsOf(samples: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += (samples[i] ?? 0) ** 2;
  return samples.length ? Math.sqrt(sum / samples.length) : 0;
}

/** Where the peaks of a lane should stand, dBFS. */
export interface LevelZone {
  lowDbfs: number;
  highDbfs: number;
}

/** A voice's peaks (common practice: about -12 dBFS). */
export const voiceZone: LevelZone = { lowDbfs: -15, highDbfs: -9 };
/** A game's peaks under a voice: 12 dB and more below it, so that words stay clear (common practice). */
export const gameUnderVoiceZone: LevelZone = { lowDbfs: -30, highDbfs: -24 };
/** A lane with everything, and a game alone: room is left for what nobody foresaw (common practice). */
export const mixZone: LevelZone = { lowDbfs: -18, highDbfs: -6 };

/** How far the peaks of a voice should stand above those of the game, dB: from the edges of their zones. */
export const voiceAboveDb = {
  least: voiceZone.lowDbfs - gameUnderVoiceZone.highDbfs,
  most: voiceZone.highDbfs - gameUnderVoiceZone.lowDbfs,
};

/** "in its zone", "2.2 dB above": a peak against its zone. */
export function zoneWords(peakDbfs: number | null, zone: LevelZone): string {
  if (peakDbfs === null) return 'silent';
  if (peakDbfs > zone.highDbfs) return `${(peakDbfs - zone.highDbfs).toFixed(1)} dB above`;
  if (peakDbfs < zone.lowDbfs) return `${(zone.lowDbfs - peakDbfs).toFixed(1)} dB below`;
  return 'in its zone';
}
