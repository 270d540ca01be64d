const helperNames = ['helper-1', 'helper-2', 'helper-3', 'helper-4'] as const;
/** Names of the practice game's helpers. */
export const helpersNamed = (count: number): readonly ThreadName[] => helperNames.slice(0, count);

const stripeNames = [
  'stripe-1',
  'stripe-2',
  'stripe-3',
  'stripe-4',
  'stripe-5',
  'stripe-6',
  'stripe-7',
  'stripe-8',
  'stripe-9',
] as const;
/** Names of the writers of a striped take. */
export const stripesNamed = (count: number): readonly ThreadName[] => stripeNames.slice(0, count);

export type ThreadName =
  | 'game'
  | 'grab'
  | 'play'
  | 'camera'
  | 'sound'
  | 'hear'
  | 'picker'
  | 'size'
  | 'encode'
  | 'pack'
  | 'drive'
  | 'keep'
  | (typeof helperNames)[number]
  | (typeof stripeNames)[number];

/** The bundled file of a thread; those of a kind share one. */
export const fileOfThread = (name: ThreadName): string => name.replace(/-\d$/, '');
/** Which of its kind a thread is, from 0. */
export const indexOfThread = (name: ThreadName): number => Number(/-(\d)$/.exec(name)?.[1] ?? 1) - 1;

const guests: readonly ThreadName[] = ['keep', 'camera', 'sound', 'hear'];

/**
 * Source, Picker, Size, Encode, Pack and Drive make the take. The others are guests: one that fails is told, is begun anew after a
 * while, and neither ends nor delays the take.
 */
export const isGuest = (name: ThreadName): boolean => guests.includes(name);
