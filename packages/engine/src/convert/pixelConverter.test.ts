import fc from 'fast-check';
import { lumaParts, stepsOf, type Samples } from './matrixWeights';
import { createPictureMemory, openPixelConverter, type Halved } from './pixelConverter';

/**
 * The kernel against the formulas of Rec. ITU-R BT.709-6 (3.2 to 3.4, 4.6) and BT.601-7 (2.5), computed here in floating
 * point and one sample at a time.
 */
const memory = createPictureMemory(1 << 20);
const bytes = new Uint8Array(memory.buffer);
const words = (at: number) => (bytes[at] ?? 0) | ((bytes[at + 1] ?? 0) << 8);
const converter = openPixelConverter(memory);
const untouched = 0xa5;

const samplesOf = fc.record({
  matrix: fc.constantFrom('bt709' as const, 'bt601' as const),
  range: fc.constantFrom('limited' as const, 'full' as const),
  centred: fc.boolean(),
});
/** A source at 0, results from 128 KiB on: planes with room between that nobody may write to. */
const planesFrom = 1 << 17;
const planeRoom = 1 << 15;
const planeAt = (i: number, strideBytes: number) => ({ at: planesFrom + i * planeRoom, strideBytes });

type Rgb = readonly [blue: number, green: number, red: number];
interface Exact {
  luma: number;
  blue: number;
  red: number;
}
/** Of colours between 0 and 1: luma as its share, differences round 0. */
function exactOf([b, g, r]: Rgb, matrix: Samples['matrix']): Exact {
  const { red: kr, blue: kb } = lumaParts[matrix];
  const luma = kr * r + (1 - kr - kb) * g + kb * b;
  return { luma, blue: (b - luma) / (2 * (1 - kb)), red: (r - luma) / (2 * (1 - kr)) };
}
function coloursOf({ luma, blue, red }: Exact, matrix: Samples['matrix']): Rgb {
  const { red: kr, blue: kb } = lumaParts[matrix];
  const r = luma + 2 * (1 - kr) * red;
  const b = luma + 2 * (1 - kb) * blue;
  return [b, (luma - kr * r - kb * b) / (1 - kr - kb), r];
}
const coded = (value: number, zero: number, steps: number, most = 255) =>
  Math.max(0, Math.min(most, zero + steps * value));

function fill(seed: number, from: number, length: number): void {
  let state = (seed | 1) >>> 0;
  for (let i = 0; i < length; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    // Ends of the range are as frequent as all between them.
    bytes[from + i] = state & 0x100 ? state >>> 24 : state & 0x200 ? 255 : 0;
  }
}
const pixel = (x: number, y: number, stride: number): Rgb =>
  [0, 1, 2].map((c) => (bytes[y * stride + 4 * x + c] ?? 0) / 255) as unknown as Rgb;

/** Largest distance from what is exact, in steps: half a step is rounding. */
const near = 0.53;

/** Codes of luma and differences, BT.709-6, 4.6: of 10 bits limited range is fourfold, full range ends at 1023. */
const scaleOf = ({ range }: Samples, bits: 8 | 10): number => (bits === 8 ? 1 : range === 'full' ? 1023 / 255 : 4);
const codedLuma = (luma: number, samples: Samples, bits: 8 | 10): number => {
  const { black, luma: steps } = stepsOf(samples.range);
  return coded(luma, black * (bits === 10 ? 4 : 1), steps * scaleOf(samples, bits), 2 ** bits - 1);
};
const codedDifference = (difference: number, samples: Samples, bits: 8 | 10): number =>
  coded(difference, bits === 10 ? 512 : 128, stepsOf(samples.range).difference * scaleOf(samples, bits), 2 ** bits - 1);
const sampleAt = (at: number, bits: 8 | 10): number => (bits === 10 ? words(at) : (bytes[at] ?? -1));

/** Weights of 16 bits are off by half of their last: up to a quarter of a step of 10 bits. */
function within(what: string, found: number, exact: number, bits: 8 | 10, besides = 0): void {
  if (Math.abs(found - exact) > near + (bits === 10 ? 0.3 : 0) + besides)
    throw new Error(`${what}: ${found}, exact ${exact}`);
}

function untouchedAround(plane: number, strideBytes: number, lineBytes: number, rows: number): boolean {
  const start = planesFrom + plane * planeRoom;
  for (let at = 0; at < planeRoom; at++) {
    const inside = at < strideBytes * rows && at % strideBytes < lineBytes;
    if (!inside && bytes[start + at] !== untouched) return false;
  }
  return true;
}

describe('colours to luma and differences', () => {
  it('gives the codes of full colour bars (BT.709, 8 bit, from memory)', () => {
    const bars = [
      [255, 255, 255, 235, 128, 128],
      [0, 255, 255, 219, 16, 138],
      [255, 255, 0, 188, 154, 16],
      [0, 255, 0, 173, 42, 26],
      [255, 0, 255, 78, 214, 230],
      [0, 0, 255, 63, 102, 240],
      [255, 0, 0, 32, 240, 118],
      [0, 0, 0, 16, 128, 128],
    ];
    bars.forEach(([b = 0, g = 0, r = 0], x) => bytes.set([b, g, r, 0], 4 * x));
    const planes = [0, 1, 2].map((i) => planeAt(i, 64));
    converter.toFull(
      { at: 0, strideBytes: 64 },
      planes,
      { widthPx: 8, rows: 1 },
      { matrix: 'bt709', range: 'limited' },
      8,
    );
    expect(bars.map((_, x) => planes.map(({ at }) => bytes[at + x]))).toEqual(bars.map((bar) => bar.slice(3)));
  });

  it.each([8, 10] as const)('is exact to half a step at every pixel, and writes nowhere else: %s bits', (bits) => {
    const per = bits === 10 ? 2 : 1;
    fc.assert(
      fc.property(
        samplesOf,
        fc.integer({ min: 1, max: 70 }),
        fc.integer({ min: 1, max: 5 }),
        fc.integer(),
        (s, w, h, seed) => {
          const [stride, into] = [4 * w + 12, w * per + 6];
          bytes.fill(untouched, planesFrom, planesFrom + 3 * planeRoom);
          fill(seed, 0, stride * h);
          const planes = [0, 1, 2].map((i) => planeAt(i, into));
          converter.toFull({ at: 0, strideBytes: stride }, planes, { widthPx: w, rows: h }, s, bits);
          for (let y = 0; y < h; y++)
            for (let x = 0; x < w; x++) {
              const { luma, blue, red } = exactOf(pixel(x, y, stride), s.matrix);
              [codedLuma(luma, s, bits), codedDifference(blue, s, bits), codedDifference(red, s, bits)].forEach(
                (value, i) => {
                  const found = sampleAt(planesFrom + i * planeRoom + y * into + x * per, bits);
                  within(`plane ${i} at ${x}, ${y}`, found, value, bits);
                },
              );
            }
          return [0, 1, 2].every((i) => untouchedAround(i, into, w * per, h));
        },
      ),
    );
  });

  it.each([
    ['planes', 1, null],
    ['differences in turn', 2, null],
    ['planes of 10 bits', 1, { lift: 0 }],
    ['differences in turn, 10 bits, lifted', 2, { lift: 6 }],
  ] as const)('halves differences as they lie: %s', (_, step, wide) => {
    const size = fc.integer({ min: 4, max: 35 }).map((half) => 2 * half);
    fc.assert(
      fc.property(samplesOf, size, fc.integer({ min: 1, max: 3 }), fc.integer(), (asked, w, halfRows, seed) => {
        const s = wide ? { ...asked, centred: false } : asked;
        const [h, stride, per] = [2 * halfRows, 4 * w + 8, wide ? 2 : 1];
        const lineOf = [w * per, (w / 2) * step * per, (w / 2) * per];
        const strideOf = lineOf.map((line) => line + 6);
        bytes.fill(untouched, planesFrom, planesFrom + 3 * planeRoom);
        fill(seed, 0, stride * h);
        const blue = planeAt(1, strideOf[1]!);
        const into: Halved = {
          luma: planeAt(0, strideOf[0]!),
          blue,
          red: step === 2 ? { ...blue, at: blue.at + per } : planeAt(2, strideOf[2]!),
          step,
        };
        converter.toHalved({ at: 0, strideBytes: stride }, into, { widthPx: w, rows: h }, s, wide);
        const steps = stepsOf(s.range);
        const most = wide ? 1023 : 255;
        // Limited range of 10 bits is four times that of 8; full range ends at the highest code.
        const by = wide ? (s.range === 'full' ? 1023 / 255 : 4) : 1;
        const read = (at: number) => (wide ? words(at) / 2 ** wide.lift : (bytes[at] ?? -1));
        const check = (what: string, found: number, value: number) => {
          if (Math.abs(found - value) > near + (wide ? 0.3 : 0)) throw new Error(`${what}: ${found}, exact ${value}`);
        };
        const at = (x: number, y: number) => exactOf(pixel(Math.max(0, Math.min(w - 1, x)), y, stride), s.matrix);
        for (let y = 0; y < h; y++)
          for (let x = 0; x < w; x++)
            check(
              `luma at ${x}, ${y}`,
              read(into.luma.at + y * into.luma.strideBytes + x * per),
              coded(at(x, y).luma, steps.black * (wide ? 4 : 1), steps.luma * by, most),
            );
        for (let y = 0; y < h; y += 2)
          for (let x = 0; x < w; x += 2)
            for (const kind of ['blue', 'red'] as const) {
              const columns = s.centred ? [x, x + 1] : [x - 1, x, x, x + 1];
              const all = columns.flatMap((column) => [at(column, y)[kind], at(column, y + 1)[kind]]);
              const mean = all.reduce((sum, value) => sum + value, 0) / all.length;
              const plane = into[kind];
              check(
                `${kind} at ${x}, ${y}`,
                read(plane.at + (y / 2) * plane.strideBytes + (x / 2) * step * per),
                coded(mean, wide ? 512 : 128, steps.difference * by, most),
              );
            }
        const planes = step === 2 ? [0, 1] : [0, 1, 2];
        return planes.every((i) => untouchedAround(i, strideOf[i]!, lineOf[i]!, i === 0 ? h : h / 2));
      }),
    );
  });
});

describe('luma and differences to colours', () => {
  it.each([
    ['planes of green, blue and red', 1],
    ['three bytes a pixel', 3],
    ['four bytes a pixel', 4],
  ] as const)('is exact to half a step: %s', (_, per) => {
    fc.assert(
      fc.property(
        samplesOf,
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer(),
        (s, w, h, seed) => {
          const [from, line] = [w + 3, w * per];
          const stride = line + 9;
          bytes.fill(untouched, planesFrom, planesFrom + 3 * planeRoom);
          fill(seed, 0, 3 * from * h);
          const planes = [0, 1, 2].map((i) => ({ at: i * from * h, strideBytes: from }));
          const into = per === 1 ? [0, 1, 2].map((i) => planeAt(i, stride)) : [planeAt(0, stride)];
          converter.toColours(planes, into, per, { widthPx: w, rows: h }, s);
          const steps = stepsOf(s.range);
          for (let y = 0; y < h; y++)
            for (let x = 0; x < w; x++) {
              const [luma, blue, red] = planes.map(({ at }) => bytes[at + y * from + x] ?? 0) as [
                number,
                number,
                number,
              ];
              const exact = coloursOf(
                {
                  luma: (luma - steps.black) / steps.luma,
                  blue: (blue - 128) / steps.difference,
                  red: (red - 128) / steps.difference,
                },
                s.matrix,
              ).map((value) => coded(value, 0, 255));
              const [b = 0, g = 0, r = 0] = exact;
              const found =
                per === 1
                  ? into.map(({ at }) => bytes[at + y * stride + x] ?? -1)
                  : [1, 0, 2].map((c) => bytes[planesFrom + y * stride + per * x + c] ?? -1);
              [g, b, r].forEach((value, i) => {
                if (Math.abs(found[i]! - value) > near + 0.02)
                  throw new Error(`${i} at ${x}, ${y}: ${found[i]}, exact ${value}`);
              });
            }
          return into.every((__, i) => untouchedAround(i, stride, line, h));
        },
      ),
    );
  });
});

describe('one matrix and range to others', () => {
  const limited = fc.record({
    matrix: fc.constantFrom('bt709' as const, 'bt601' as const),
    range: fc.constant('limited' as const),
  });
  const turned = (colour: Exact, from: Samples, into: Samples) => exactOf(coloursOf(colour, from.matrix), into.matrix);
  /** Samples that can be: of 10 bits no more than those. */
  const read = (at: number, bits: 8 | 10) => sampleAt(at, bits) % (bits === 10 ? 1024 : 256);

  it.each([
    ['planes', 8, 1, 0],
    ['differences in turn', 8, 2, 0],
    ['planes of 10 bits', 10, 1, 0],
    ['differences in turn, 10 bits, lifted', 10, 2, 6],
  ] as const)('4:2:0 keeps its colours, luma takes differences brought to it: %s', (_, bits, step, lift) => {
    const per = bits === 10 ? 2 : 1;
    const zero = bits === 10 ? 512 : 128;
    fc.assert(
      fc.property(
        limited,
        samplesOf,
        fc.integer({ min: 1, max: 40 }).map((half) => 2 * half),
        fc.integer({ min: 1, max: 3 }),
        fc.integer(),
        (a, asked, w, halfRows, seed) => {
          const b: Samples = { ...asked, centred: bits === 8 && asked.centred };
          const [h, half] = [2 * halfRows, w / 2];
          fill(seed, 0, w * h * 2 * per);
          if (bits === 10) for (let at = 1; at < w * h * 4; at += 2) bytes[at] = (bytes[at] ?? 0) & 3;
          bytes.fill(untouched, planesFrom, planesFrom + 3 * planeRoom);
          const from: Halved = {
            luma: { at: 0, strideBytes: w * per },
            blue: { at: w * h * per, strideBytes: half * per },
            red: { at: (w * h + half * halfRows) * per, strideBytes: half * per },
            step: 1,
          };
          const line = half * step * per;
          const blue = planeAt(1, line + 4);
          const into: Halved = {
            luma: planeAt(0, w * per + 4),
            blue,
            red: step === 2 ? { ...blue, at: blue.at + per } : planeAt(2, line + 4),
            step,
          };
          const wide = bits === 10 ? { lift } : null;
          converter.toOther(from, into, { widthPx: w, rows: h }, { from: a, into: b }, wide);
          const fourfold = bits === 10 ? 4 : 1;
          const kept = (kind: 'blue' | 'red', k: number, j: number) => {
            const column = Math.max(0, Math.min(half - 1, k));
            const row = Math.max(0, Math.min(halfRows - 1, j));
            return (read(from[kind].at + (row * half + column) * per, bits) - zero) / (224 * fourfold);
          };
          /** Where a pixel lies between samples: three quarters of the nearer line; half of the next one in odd columns. */
          const brought = (kind: 'blue' | 'red', x: number, y: number) => {
            const [k, j, other] = [x >> 1, y >> 1, (y >> 1) + (y & 1 ? 1 : -1)];
            const next = x & 1 ? k + 1 : k;
            const lineAt = (column: number) => 0.75 * kept(kind, column, j) + 0.25 * kept(kind, column, other);
            return (lineAt(k) + lineAt(next)) / 2;
          };
          for (let y = 0; y < h; y++)
            for (let x = 0; x < w; x++) {
              const luma = (read((y * w + x) * per, bits) - 16 * fourfold) / (219 * fourfold);
              const colour = { luma, blue: brought('blue', x, y), red: brought('red', x, y) };
              const found = sampleAt(into.luma.at + y * into.luma.strideBytes + x * per, bits) / 2 ** lift;
              within(`luma at ${x}, ${y}`, found, codedLuma(turned(colour, a, b).luma, b, bits), bits, 0.05 * fourfold);
            }
          for (let j = 0; j < halfRows; j++)
            for (let k = 0; k < half; k++)
              for (const kind of ['blue', 'red'] as const) {
                const between = (of: 'blue' | 'red') =>
                  b.centred ? 0.75 * kept(of, k, j) + 0.25 * kept(of, k + 1, j) : kept(of, k, j);
                const value = turned({ luma: 0, blue: between('blue'), red: between('red') }, a, b)[kind];
                const at = into[kind].at + j * into[kind].strideBytes + k * step * per;
                within(
                  `${kind} at ${k}, ${j}`,
                  sampleAt(at, bits) / 2 ** lift,
                  codedDifference(value, b, bits),
                  bits,
                  0.05,
                );
              }
          const planes = step === 2 ? [0, 1] : [0, 1, 2];
          return planes.every((i) =>
            untouchedAround(i, (i ? line : w * per) + 4, i ? line : w * per, i ? halfRows : h),
          );
        },
      ),
    );
  });

  it('with all differences each pixel is turned by itself', () => {
    fc.assert(
      fc.property(
        limited,
        samplesOf,
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer(),
        (a, b, w, h, seed) => {
          fill(seed, 0, 3 * w * h);
          bytes.fill(untouched, planesFrom, planesFrom + 3 * planeRoom);
          const from = [0, 1, 2].map((i) => ({ at: i * w * h, strideBytes: w }));
          const into = [0, 1, 2].map((i) => planeAt(i, w + 7));
          converter.toOtherFull(from, into, { widthPx: w, rows: h }, { from: a, into: b });
          for (let y = 0; y < h; y++)
            for (let x = 0; x < w; x++) {
              const [luma, blue, red] = from.map(({ at }) => bytes[at + y * w + x] ?? 0) as [number, number, number];
              const colour = turned(
                { luma: (luma - 16) / 219, blue: (blue - 128) / 224, red: (red - 128) / 224 },
                a,
                b,
              );
              [
                codedLuma(colour.luma, b, 8),
                codedDifference(colour.blue, b, 8),
                codedDifference(colour.red, b, 8),
              ].forEach((value, i) =>
                within(`plane ${i} at ${x}, ${y}`, bytes[into[i]!.at + y * (w + 7) + x] ?? -1, value, 8, 0.02),
              );
            }
          return [0, 1, 2].every((i) => untouchedAround(i, w + 7, w, h));
        },
      ),
    );
  });
});
