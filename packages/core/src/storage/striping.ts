import type { Recipe, StripeLayout } from '@mellow/model';

/** Large enough that a hard disk seldom seeks, small enough that every drive has work within one key distance. */
const stripeBlockBytes = 1 << 20;
/** Rounds are at most about so long: shares come as near to the speeds as that allows. */
const patternBlocks = 32;

/** Whether a take is spread over several folders at once. */
export const isStriped = ({ parts, nextDriveIds }: Pick<Recipe, 'parts' | 'nextDriveIds'>): boolean =>
  parts.by === 'striped' && nextDriveIds.length > 0;

/**
 * Which folder takes which block.
 * @param speeds of each folder; all as much where one is not known
 */
export function stripeLayout(
  speeds: readonly (number | null)[],
  shares: 'equal' | 'by-speed',
  blockBytes = stripeBlockBytes,
): StripeLayout {
  const known = speeds.filter((speed): speed is number => speed !== null && speed > 0);
  const equal = shares === 'equal' || known.length < speeds.length;
  if (equal) return { blockBytes, pattern: speeds.map((_, stripe) => stripe) };
  return { blockBytes, pattern: interleaved(fastestWeights(known)) };
}

/** Blocks of each in a round, of the shortest round that is as fast as any: the whole waits for whoever is full on. */
function fastestWeights(speeds: readonly number[]): number[] {
  const sum = speeds.reduce((total, speed) => total + speed, 0);
  let best: number[] = [];
  let fastest = 0;
  for (let blocks = speeds.length; blocks <= patternBlocks; blocks++) {
    // Whoever is slowest takes a block too.
    const weights = speeds.map((speed) => Math.max(1, Math.round((speed / sum) * blocks)));
    const taken = weights.reduce((total, weight) => total + weight, 0);
    const speed = Math.min(...speeds.map((one, i) => (one * taken) / (weights[i] ?? 1)));
    if (speed <= fastest * (1 + 1e-9)) continue;
    [best, fastest] = [weights, speed];
  }
  return best;
}

/** As many of each as it weighs, spread evenly: each time the one that is furthest behind its share. */
function interleaved(weights: readonly number[]): number[] {
  const sum = weights.reduce((total, weight) => total + weight, 0);
  const given = weights.map(() => 0);
  return Array.from({ length: sum }, (_, n) => {
    const behind = weights.map((weight, i) => ((n + 1) * weight) / sum - (given[i] ?? 0));
    const next = behind.indexOf(Math.max(...behind));
    given[next] = (given[next] ?? 0) + 1;
    return next;
  });
}

/** How many of a pattern's blocks are each stripe's. */
export const stripeCounts = ({ pattern }: StripeLayout): number[] =>
  Array.from({ length: Math.max(...pattern) + 1 }, (_, stripe) => pattern.filter((one) => one === stripe).length);

/**
 * Where a byte of the whole lies.
 * @returns the stripe, the position in its file, and how many bytes follow there without a break
 */
export function placeInStripes(
  { blockBytes, pattern }: StripeLayout,
  position: number,
): { stripe: number; at: number; bytes: number } {
  const block = Math.floor(position / blockBytes);
  const inPattern = block % pattern.length;
  const rounds = Math.floor(block / pattern.length);
  const stripe = pattern[inPattern] ?? 0;
  let perRound = 0;
  let before = 0;
  pattern.forEach((one, i) => {
    if (one !== stripe) return;
    perRound++;
    if (i < inPattern) before++;
  });
  const into = position % blockBytes;
  return { stripe, at: (rounds * perRound + before) * blockBytes + into, bytes: blockBytes - into };
}

/** Up to where nothing of the whole is missing, by how long each stripe is. */
export function wholeInStripes({ blockBytes, pattern }: StripeLayout, lengths: readonly number[]): number {
  const ends = lengths.map((length, stripe) => {
    const places = pattern.flatMap((one, i) => (one === stripe ? [i] : []));
    if (!places.length) return Infinity;
    const block = Math.floor(length / blockBytes);
    const rounds = Math.floor(block / places.length);
    return (rounds * pattern.length + (places[block % places.length] ?? 0)) * blockBytes + (length % blockBytes);
  });
  return Math.min(...ends);
}

/** What goes into the whole until the first folder is full, by what is free in each. */
export function roomInStripes(layout: StripeLayout, freeBytes: readonly number[]): number {
  const counts = stripeCounts(layout);
  return Math.min(...freeBytes.map((free, stripe) => (free * layout.pattern.length) / (counts[stripe] ?? 1)));
}
