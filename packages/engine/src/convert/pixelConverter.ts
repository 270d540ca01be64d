import { kernelBase64 } from './kernelBytes';
import { stepsOf, weightsBetween, weightsFromColours, weightsToColours, type Samples } from './matrixWeights';

/** A plane, or the part of it that is meant, in the memory that all of a take's pictures lie in. */
export interface PlaneAt {
  at: number;
  strideBytes: number;
}

/** 4:2:0: differences in planes of their own, or both kinds in turn in one (`step` 2). */
export interface Halved {
  luma: PlaneAt;
  blue: PlaneAt;
  red: PlaneAt;
  step: 1 | 2;
}

interface Lines {
  widthPx: number;
  rows: number;
}

interface FromInto {
  from: Samples;
  into: Samples;
}

export interface PixelConverter {
  /** Blue, green, red and nothing to a sample of each kind for each pixel. @param bits 8, or 10 in two bytes */
  toFull(from: PlaneAt, into: readonly PlaneAt[], size: Lines, samples: Samples, bits: 8 | 10): void;
  /** Blue, green, red and nothing to 4:2:0. @param wide null: 8 bits; otherwise 10, lying so many bits above the lowest */
  toHalved(from: PlaneAt, into: Halved, size: Lines, samples: Samples, wide: { lift: number } | null): void;
  /** A sample of each kind for each pixel to planes of green, blue and red, or to one plane of 3 or 4 bytes a pixel. */
  toColours(from: readonly PlaneAt[], into: readonly PlaneAt[], bytes: 1 | 3 | 4, size: Lines, samples: Samples): void;
  /** 4:2:0 of one matrix and range to 4:2:0 of others, of 8 bits or, both of them, of 10; from three planes. */
  toOther(from: Halved, into: Halved, size: Lines, samples: FromInto, wide: { lift: number } | null): void;
  /** A sample of each kind for each pixel, of one matrix and range, to the same of others. */
  toOtherFull(from: readonly PlaneAt[], into: readonly PlaneAt[], size: Lines, samples: FromInto): void;
}

/** What the kernel of kernels/convertPixels.ts offers; its arguments are described there. */
interface Kernel {
  fullDifferences(...args: (number | bigint)[]): void;
  halvedDifferences(...args: (number | bigint)[]): void;
  redGreenBlue(...args: (number | bigint)[]): void;
  otherMatrix(...args: (number | bigint)[]): void;
  otherMatrixFull(...args: (number | bigint)[]): void;
}

/** Memory that pictures lie in and are converted in, shared by threads; as Node makes it for WebAssembly. */
export interface PictureMemory {
  readonly buffer: SharedArrayBuffer;
}

/** What is used of WebAssembly: types of it come only with those of a browser. */
interface WebAssemblyHere {
  Memory: new (size: { initial: number; maximum: number; shared: true }) => PictureMemory;
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: { env: { memory: PictureMemory } }) => { exports: object };
}
const { WebAssembly: wasm } = globalThis as unknown as { WebAssembly: WebAssemblyHere };
const pageBytes = 65536;

export function createPictureMemory(bytes: number): PictureMemory {
  const pages = Math.max(1, Math.ceil(bytes / pageBytes));
  return new wasm.Memory({ initial: pages, maximum: pages, shared: true });
}

/** Up to four weights of 16 bits in one number, the first in its lowest bits. */
const packed = (weights: readonly number[]): bigint =>
  weights.reduce((sum, w, i) => sum | (BigInt.asUintN(16, BigInt(w)) << BigInt(16 * i)), 0n);

const centred = ({ centred: is }: Samples): number => (is ? 1 : 0);

/** Opens the kernel over a memory. Every address is one in that memory; what lies there is not checked. */
export function openPixelConverter(memory: PictureMemory): PixelConverter {
  const module = new wasm.Module(Buffer.from(kernelBase64, 'base64'));
  const kernel = new wasm.Instance(module, { env: { memory } }).exports as Kernel;
  const from = (samples: Samples, bits: 8 | 10) => {
    const { luma, blue, red } = weightsFromColours(samples, bits);
    return [packed(luma), packed(blue), packed(red), stepsOf(samples.range).black * (bits === 10 ? 4 : 1)];
  };
  return {
    toFull(picture, [luma, blue, red], { widthPx, rows }, samples, bits) {
      if (!luma || !blue || !red) throw new RangeError('three planes are needed');
      kernel.fullDifferences(
        ...[picture.at, picture.strideBytes, luma.at, blue.at, red.at, luma.strideBytes, widthPx, rows],
        ...from(samples, bits),
        bits === 10 ? 2 : 1,
      );
    },
    toHalved(picture, { luma, blue, red, step }, { widthPx, rows }, samples, wide) {
      const planes = [
        ...[picture.at, picture.strideBytes, luma.at, luma.strideBytes],
        ...[blue.at, red.at, blue.strideBytes, step, widthPx, rows],
      ];
      if (wide) kernel.halvedDifferences(...planes, ...from(samples, 10), 2, wide.lift, 0);
      else kernel.halvedDifferences(...planes, ...from(samples, 8), 1, 0, centred(samples));
    },
    toColours([luma, blue, red], into, bytes, { widthPx, rows }, samples) {
      // Planes of green, blue and red; one plane is all three.
      const [first, second = first, third = first] = into;
      if (!luma || !blue || !red || !first || !second || !third) throw new RangeError('three planes are needed');
      const { luma: y, redOfRed, greenOfBlue, greenOfRed, blueOfBlue } = weightsToColours(samples);
      kernel.redGreenBlue(
        ...[luma.at, blue.at, red.at, luma.strideBytes, first.at, second.at, third.at, first.strideBytes, bytes],
        ...[widthPx, rows, packed([y, redOfRed, greenOfBlue, greenOfRed]), blueOfBlue, stepsOf(samples.range).black],
      );
    },
    toOther(picture, into, { widthPx, rows }, samples, wide) {
      const { luma, differences } = weightsBetween(samples.from, samples.into, 8, wide ? 10 : 8);
      const fourfold = wide ? 4 : 1;
      kernel.otherMatrix(
        ...[picture.luma.at, picture.luma.strideBytes, picture.blue.at, picture.red.at, picture.blue.strideBytes],
        ...[into.luma.at, into.luma.strideBytes, into.blue.at, into.red.at, into.blue.strideBytes, into.step],
        ...[widthPx, rows, packed(luma), packed(differences)],
        ...[stepsOf(samples.from.range).black * fourfold, stepsOf(samples.into.range).black * fourfold],
        ...[centred(samples.into), wide ? 2 : 1, wide?.lift ?? 0],
      );
    },
    toOtherFull([luma, blue, red], [intoLuma, intoBlue, intoRed], { widthPx, rows }, samples) {
      if (!luma || !blue || !red || !intoLuma || !intoBlue || !intoRed) throw new RangeError('three planes are needed');
      const { luma: ofLuma, differences } = weightsBetween(samples.from, samples.into, 1, 8);
      kernel.otherMatrixFull(
        ...[luma.at, blue.at, red.at, luma.strideBytes, intoLuma.at, intoBlue.at, intoRed.at, intoLuma.strideBytes],
        ...[widthPx, rows, packed(ofLuma), packed(differences)],
        ...[stepsOf(samples.from.range).black, stepsOf(samples.into.range).black],
      );
    },
  };
}
