import type { Judged, LimitName } from '@mellow/model';
import { capitalised } from '../units';
import { limitFacts, limitWords, limitsOf, rankOfLimit, type Asked, type Limit } from './limits';

/** A figure that a limit is held against: the middle and its range, which are one where nothing is uncertain. */
export interface Known {
  value: number;
  low: number;
  high: number;
  /** The figure in words, with what it is made of; left out: the value with its range in the limit's unit. */
  words?: string;
  /** The sentence that says it where it breaks its limit; left out: figure and limit. */
  sentence?: string;
}
/** Nothing was measured or foretold, and why. */
export interface Unknown {
  unknown: string;
}
export type Quantity = Known | Unknown;

/** What was found, foretold or seen; a limit whose quantity is left out has nothing to say here. */
export type Quantities = Partial<Record<LimitName, Quantity>>;

export const exactly = (value: number, words?: string, sentence?: string): Known => ({
  value,
  low: value,
  high: value,
  ...(words !== undefined && { words }),
  ...(sentence !== undefined && { sentence }),
});
export const isKnown = (quantity: Quantity): quantity is Known => 'value' in quantity;

/** A judged limit with what orders it. */
export interface Judgement extends Judged {
  /** The middle lies beyond the limit, whatever the range says. */
  beyond: boolean;
  level: number;
  rank: number;
  over: number;
}

/** Judges every limit that is asked and has a quantity: what matters most comes first. */
export function judge(asked: Asked, quantities: Quantities): Judgement[] {
  return limitsOf(asked)
    .flatMap((limit): Judgement[] => {
      const quantity = quantities[limit.name];
      return limit.value === null || !quantity ? [] : [judgeOne(limit, limit.value, quantity, asked)];
    })
    .sort((a, b) => a.level - b.level || a.rank - b.rank || b.over - a.over);
}

/**
 * Levels: what spoils everything; what is certainly and gravely broken; what is gravely beyond in the middle; broken; beyond in the
 * middle; unclear; not known; held. Within one the brief's order decides, then by how much.
 */
function levelOf(
  { state, beyond, grave, known }: Pick<Judgement, 'state' | 'beyond' | 'grave' | 'known'>,
  ruined: boolean,
): number {
  if (state === 'held') return 7;
  if (!known) return 6;
  if (ruined) return 0;
  if (state === 'broken') return grave ? 1 : 3;
  if (!beyond) return 5;
  return grave ? 2 : 4;
}

const noFigure = { value: null, low: null, high: null };
const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

function judgeOne(limit: Limit, value: number, quantity: Quantity, asked: Asked): Judgement {
  const { name, answer } = limit;
  const { words, better, graveFrom, ruinedFrom } = limitFacts[name];
  const rank = rankOfLimit(name, asked.brief);
  const askedWords = limitWords(limit, asked);
  const base = { limit: name, name: words, asked: askedWords, answer, rank };
  if (!isKnown(quantity)) {
    const open = { state: 'unclear', grave: false, known: false, beyond: false } as const;
    const sentence = `${words}: ${quantity.unknown}.`;
    return { ...base, ...open, ...noFigure, found: quantity.unknown, sentence, level: levelOf(open, false), over: 0 };
  }
  const sign = better === 'less' ? 1 : -1;
  const above = (one: number, than: number): boolean => (one - than) * sign > 1e-9;
  const [best, worst] = better === 'less' ? [quantity.low, quantity.high] : [quantity.high, quantity.low];
  const beyond = above(quantity.value, value);
  const state = above(best, value) ? 'broken' : above(worst, value) ? 'unclear' : 'held';
  const grave = beyond && !above(graveFrom(value), quantity.value);
  const found = quantity.words ?? figureWords(quantity, name, asked);
  const judged = { state, grave, known: true, beyond } as const;
  return {
    ...base,
    ...judged,
    ...{ value: finite(quantity.value), low: finite(quantity.low), high: finite(quantity.high) },
    found,
    sentence: quantity.sentence ?? `${capitalised(words)} ${found}, ${askedWords} asked.`,
    level: levelOf(judged, state === 'broken' && ruinedFrom !== undefined && quantity.value >= ruinedFrom),
    over: overBy(quantity.value, value, better),
  };
}

/** By how much a value is beyond its limit, so that limits of different units can be compared: times, where that has a meaning. */
function overBy(value: number, limit: number, better: 'less' | 'more'): number {
  if (better === 'less') return limit > 0 ? value / limit : value > limit ? Infinity : 0;
  return value > 0 ? limit / value : Infinity;
}

/** "3.1 % (0.9 % to 6.0 %)"; without a range where it is a point. */
export function figureWords({ value, low, high }: Known, name: LimitName, asked: Asked): string {
  const { format } = limitFacts[name];
  const [middle, least, most] = [value, low, high].map((one) => format(one, asked));
  return least === most ? (middle ?? '') : `${middle} (${least} to ${most})`;
}

/** What is broken, and what is beyond in the middle of its range: something should change. */
export const troubles = (judged: readonly Judgement[]): Judgement[] => judged.filter(({ beyond }) => beyond);
/** Limits that have a figure and are neither held nor beyond. */
export const unclear = (judged: readonly Judgement[]): Judgement[] =>
  judged.filter(({ state, known, beyond }) => state === 'unclear' && known && !beyond);
export const notKnown = (judged: readonly Judgement[]): Judgement[] => judged.filter(({ known }) => !known);

/** The plain record of a judgement, as it is kept with a take. */
export const judgedOf = ({ beyond: _b, level: _l, rank: _r, over: _o, ...judged }: Judgement): Judged => judged;

/** What was measured, as it was judged before: to be held against limits anew. What has no figure says nothing. */
export const quantitiesOf = (judged: readonly Judged[]): Quantities =>
  Object.fromEntries(
    judged
      .filter(({ known }) => known)
      .map(({ limit, value, low, high, found, sentence }): [LimitName, Known] => [
        limit,
        { value: value ?? Infinity, low: low ?? Infinity, high: high ?? Infinity, words: found, sentence },
      ]),
  );
