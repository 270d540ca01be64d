/** Luma of a matrix from red, green and blue: Rec. ITU-R BT.709-6, 3.2, and BT.601-7, 2.5.1. */
export const lumaParts = {
  bt709: { red: 0.2126, blue: 0.0722 },
  bt601: { red: 0.299, blue: 0.114 },
} as const;
export type MatrixName = keyof typeof lumaParts;

export interface Samples {
  matrix: MatrixName;
  range: 'limited' | 'full';
  /** A difference of 4:2:0 lies between its two pixels, as JPEG has it (ITU-T T.871, clause from memory), not on the left one. */
  centred?: boolean;
}

/** Steps of luma and of a difference between their ends, and where black lies, in 8 bits (BT.709-6, 4.6; T.871, 7). */
export const stepsOf = (range: Samples['range']): { luma: number; difference: number; black: number } =>
  range === 'full' ? { luma: 255, difference: 255, black: 0 } : { luma: 219, difference: 224, black: 16 };

type Triple = readonly [number, number, number];

/** What luma, the blue and the red difference take of blue, green and red, all between 0 and 1. */
function fromColours(matrix: MatrixName): { luma: Triple; blue: Triple; red: Triple } {
  const { red: kr, blue: kb } = lumaParts[matrix];
  const kg = 1 - kr - kb;
  const toBlue = 2 * (1 - kb);
  const toRed = 2 * (1 - kr);
  return {
    luma: [kb, kg, kr],
    blue: [0.5, -kg / toBlue, -kr / toBlue],
    red: [-kb / toRed, -kg / toRed, 0.5],
  };
}

/** What blue, green and red take of luma, the blue and the red difference. */
function toColours(matrix: MatrixName): { blue: Triple; green: Triple; red: Triple } {
  const { red: kr, blue: kb } = lumaParts[matrix];
  const kg = 1 - kr - kb;
  const [blue, red] = [2 * (1 - kb), 2 * (1 - kr)];
  return { blue: [1, blue, 0], green: [1, (-kb * blue) / kg, (-kr * red) / kg], red: [1, 0, red] };
}

const times = (weights: readonly number[], by: number): number[] => weights.map((w) => Math.round(w * by));

/** Rounded weights of a difference still sum to nothing: grey stays grey. */
function withoutGrey(weights: number[]): number[] {
  const [a = 0, b = 0, c = 0] = weights;
  return [a, b - (a + b + c), c];
}

/** Two bits more are four times as much, but the top of full range is 1023 and not 1020. */
const stretchOf = (range: Samples['range'], bits: 8 | 10): number =>
  bits === 10 && range === 'full' ? 1023 / 1020 : 1;

/** Weights of 2^-15 for blue, green and red of 8 bits. @param bits of the samples made: 8 or 10 */
export function weightsFromColours(
  { matrix, range }: Samples,
  bits: 8 | 10,
): { luma: number[]; blue: number[]; red: number[] } {
  const steps = stepsOf(range);
  const stretch = stretchOf(range, bits);
  const { luma, blue, red } = fromColours(matrix);
  const lumaScale = (steps.luma / 255) * stretch * 2 ** 15;
  const differenceScale = (steps.difference / 255) * stretch * 2 ** 15;
  return {
    luma: times(luma, lumaScale),
    blue: withoutGrey(times(blue, differenceScale)),
    red: withoutGrey(times(red, differenceScale)),
  };
}

/** Weights of 2^-13 from limited luma and differences to red, green and blue. */
export function weightsToColours({ matrix, range }: Samples): {
  luma: number;
  redOfRed: number;
  greenOfBlue: number;
  greenOfRed: number;
  blueOfBlue: number;
} {
  const steps = stepsOf(range);
  const { blue, green, red } = toColours(matrix);
  const difference = (255 / steps.difference) * 2 ** 13;
  return {
    luma: Math.round((255 / steps.luma) * 2 ** 13),
    redOfRed: Math.round(red[2] * difference),
    greenOfBlue: Math.round(green[1] * difference),
    greenOfRed: Math.round(green[2] * difference),
    blueOfBlue: Math.round(blue[1] * difference),
  };
}

/**
 * Weights of 2^-14 between two matrices and ranges.
 * @param folded how many times differences come in for luma
 * @param bits of the samples on both sides
 */
export function weightsBetween(
  from: Samples,
  to: Samples,
  folded: 1 | 8,
  bits: 8 | 10,
): { luma: number[]; differences: number[] } {
  const [steps, toSteps] = [stepsOf(from.range), stepsOf(to.range)];
  const colours = toColours(from.matrix);
  const back = fromColours(to.matrix);
  // Of luma, of the blue and of the red difference: one row of the product of both matrices.
  const row = (weights: Triple): number[] =>
    [0, 1, 2].map(
      (i) =>
        weights[0] * (colours.blue[i] ?? 0) + weights[1] * (colours.green[i] ?? 0) + weights[2] * (colours.red[i] ?? 0),
    );
  const luma = row(back.luma);
  const [blue, red] = [row(back.blue), row(back.red)];
  // What comes in is of 10 bits by four times, whichever its range: only a practice game's or sample's, which is limited.
  const scale = stretchOf(to.range, bits) * 2 ** 14;
  const lumaOfDifference = (toSteps.luma / steps.difference / folded) * scale;
  const ofDifference = (toSteps.difference / steps.difference) * scale;
  return {
    luma: [
      Math.round((toSteps.luma / steps.luma) * scale),
      Math.round((luma[1] ?? 0) * lumaOfDifference),
      Math.round((luma[2] ?? 0) * lumaOfDifference),
    ],
    differences: times([...blue.slice(1), ...red.slice(1)], ofDifference),
  };
}
