import type { Figure } from '@mellow/model';
import { normalQuantile, randomStream } from '../units';
import { sharingFigures, type SharingValues } from './sharing';

/** One guess at everything that is not known for sure: factors on the middle values, and what is shared. */
export interface Guess {
  game: number;
  size: number;
  encode: number;
  bits: number;
  driveSpeed: number;
  sharing: SharingValues;
}

/** Factors from a figure's middle to its ends, 10 to 90 %. */
export interface Spread {
  low: number;
  high: number;
}

export const spreadOf = ({ value, low, high }: Pick<Figure, 'value' | 'low' | 'high'>): Spread =>
  value > 0 ? { low: low / value, high: high / value } : { low: 1, high: 1 };

const z90 = 1.2816;

/** A factor that lies below `low` in 10 and above `high` in 10 of 100 draws: lognormal with a width of its own to each side. */
const drawn = ({ low, high }: Spread, z: number): number => (z < 0 ? low : high) ** (Math.abs(z) / z90);

const asKnown = (figures: typeof sharingFigures): SharingValues =>
  Object.fromEntries(Object.entries(figures).map(([name, figure]) => [name, figure.value])) as SharingValues;

/** Everything at its middle value: what the labelled strip shows. */
export const middleGuess: Guess = {
  game: 1,
  size: 1,
  encode: 1,
  bits: 1,
  driveSpeed: 1,
  sharing: asKnown(sharingFigures),
};

export interface Spreads {
  game: Spread;
  size: Spread;
  encode: Spread;
  bits: Spread;
  driveSpeed: Spread;
}

/**
 * Guesses that fill the ranges evenly (Latin hypercube; McKay, Beckman and Conover 1979): each thing's range is cut into as
 * many equally likely pieces as there are guesses, each piece is drawn from once, and the orders of the things are shuffled by
 * themselves. Few guesses then tell as much as many by plain chance. The same seed gives the same guesses.
 */
export function drawGuesses(seed: number, count: number, spreads: Spreads): Guess[] {
  const random = randomStream(seed ^ 0x2f6b);
  const column = (spread: Spread): number[] => {
    const order = shuffled(count, random);
    return order.map((piece) => drawn(spread, normalQuantile((piece + random()) / count)));
  };
  const columns = {
    game: column(spreads.game),
    size: column(spreads.size),
    encode: column(spreads.encode),
    bits: column(spreads.bits),
    driveSpeed: column(spreads.driveSpeed),
  };
  const shared = Object.entries(sharingFigures).map(
    ([name, figure]) => [name, column(spreadOf(figure)).map((factor) => factor * figure.value)] as const,
  );
  return Array.from({ length: count }, (_, i) => ({
    game: columns.game[i]!,
    size: columns.size[i]!,
    encode: columns.encode[i]!,
    bits: columns.bits[i]!,
    driveSpeed: columns.driveSpeed[i]!,
    sharing: Object.fromEntries(shared.map(([name, values]) => [name, values[i]!])) as SharingValues,
  }));
}

/** 0 to n - 1 in an order by chance (Fisher and Yates; Durstenfeld 1964). */
function shuffled(n: number, random: () => number): number[] {
  const order = Array.from({ length: n }, (_, i) => i);
  for (let i = n - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  return order;
}
