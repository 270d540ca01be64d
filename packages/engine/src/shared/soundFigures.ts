/** What is known of each sound of a take while it rolls, in shared memory; each figure has one writer. */
const names = [
  /** A value of `soundStateNumbers`; the thread that hears writes it. */
  'state',
  'rateHz',
  'channels',
  /** Not a number where it is not known. */
  'driftPpm',
  'away',
  'silenceSamples',
  /** Highest value since it was last read, after its gain; the mixer writes it. */
  'peak',
  /** Sum of squares and count of samples in the lead-in's quiet second. */
  'floorSquares',
  'floorSamples',
  /** A person holds its key. */
  'held',
] as const;
export type SoundFigure = (typeof names)[number];

/** Position = value of the figure. */
export const soundStateNumbers = ['away', 'alive', 'silent', 'opening'] as const;

export interface SoundFigures {
  get(sound: number, name: SoundFigure): number;
  set(sound: number, name: SoundFigure, value: number): void;
  add(sound: number, name: SoundFigure, by: number): void;
}

export const createSoundFiguresMemory = (sounds: number): SharedArrayBuffer =>
  new SharedArrayBuffer(8 * names.length * Math.max(1, sounds));

export function openSoundFigures(memory: SharedArrayBuffer): SoundFigures {
  const values = new Float64Array(memory);
  const at = (sound: number, name: SoundFigure): number => sound * names.length + names.indexOf(name);
  return {
    get: (sound, name) => values[at(sound, name)] ?? 0,
    set: (sound, name, value) => void (values[at(sound, name)] = value),
    add: (sound, name, by) => void (values[at(sound, name)] = (values[at(sound, name)] ?? 0) + by),
  };
}
