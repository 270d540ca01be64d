import { plainPracticeGame, startRecipe } from '@mellow/core';
import {
  briefSchema,
  fits,
  matrices,
  scalingFilters,
  type EncoderName,
  type PixelKind,
  type Recipe,
} from '@mellow/model';
import { pairwise } from '../../matrix/pairwise';
import { lumaParts } from '../../src/convert/matrixWeights';
import { nativePixels } from '../../src/native/encoderNames';
import { filterSizer } from '../../src/size/filterSizer';
import { pixelLayout, planesOver, type PixelLayout } from '../../src/native/pixelLayout';
import { createSizer } from '../../src/size/sizer';
import { liftOf, sizingWay } from '../../src/size/sizingWay';
import { createPicturePools } from '../../src/shared/picturePools';
import { openSlotPool } from '../../src/shared/slotPool';

/**
 * Size in shared memory against FFmpeg's own chain of filters (crop, scale, format, pad), which takes the same recipe
 * in its own words. The picture is smooth: where a sample lies shows as a shift, what a matrix does as a colour. Runs in
 * a process of its own, since the test runner does not load native modules of this kind. Output: JSON.
 */
const start = startRecipe(briefSchema.parse({ purpose: 'long-play', sessionMinutes: 90 }), plainPracticeGame, 'drive');

const targets: readonly (readonly [EncoderName, PixelKind])[] = [
  ['avc-software', '4:2:0'],
  ['avc-software', '4:2:0-10'],
  ['avc-software', '4:4:4'],
  ['avc-software', 'rgb'],
  ['ffv1-software', 'rgb'],
  ['utvideo-software', 'rgb'],
  ['mjpeg-software', '4:2:0'],
  ['hevc-card', '4:2:0'],
  ['hevc-card', '4:2:0-10'],
];
const sizes = {
  same: [322, 180, 322, 180],
  smaller: [320, 180, 192, 108],
  larger: [320, 180, 426, 240],
  'other shape': [320, 180, 256, 192],
  'odd window': [319, 181, 320, 180],
  'the same height': [320, 200, 250, 200],
} as const;

const choices = pairwise(
  {
    source: ['yuv420p', 'bgr0'] as const,
    target: targets,
    filter: scalingFilters,
    fit: fits,
    size: Object.keys(sizes) as (keyof typeof sizes)[],
    range: ['limited', 'full'] as const,
    matrix: matrices,
  },
  // A practice game's sides are even.
  ({ source, size }) => source === 'bgr0' || size !== 'odd window',
);
type Choice = (typeof choices)[number];

function recipeOf({ target: [encoder, pixels], filter, fit, size, range, matrix }: Choice): Recipe {
  const [, , widthPx, heightPx] = sizes[size];
  return {
    ...start,
    encode: { ...start.encode, encoder, pixels, range, matrix },
    size: { widthPx, heightPx, filter, fit },
  };
}

/** Colours in waves of about a hundred pixels, other ones for each: none of them leaves the range of any file. */
const colourAt = (x: number, y: number): readonly [blue: number, green: number, red: number] =>
  [0, 1, 2].map(
    (kind) => 0.5 + 0.45 * Math.sin(x / (15 + 3 * kind) + kind) * Math.cos(y / (18 + 2 * kind)),
  ) as unknown as [number, number, number];

/** Paints the waves as a source has them: blue, green and red, or limited 4:2:0 of Rec. 709 with differences on the left. */
function paint(planes: readonly Buffer[], layout: PixelLayout): void {
  const { red: kr, blue: kb } = lumaParts.bt709;
  layout.planes.forEach((plane, i) => {
    for (let y = 0; y < plane.rows; y++)
      for (let x = 0; x < plane.lineBytes; x++) {
        const perPixel = layout.name === 'bgr0' ? 4 : 1;
        const between = plane.step.y === 2 ? 0.5 : 0;
        const [b, g, r] = colourAt(Math.floor(x / perPixel) * plane.step.x, y * plane.step.y + between);
        const luma = kr * r + (1 - kr - kb) * g + kb * b;
        const kinds =
          layout.name === 'bgr0'
            ? [255 * ([b, g, r][x % 4] ?? 0)]
            : [16 + 219 * luma, 128 + (112 * (b - luma)) / (1 - kb), 128 + (112 * (r - luma)) / (1 - kr)];
        planes[i]![y * plane.strideBytes + x] = Math.round(kinds[i] ?? 0);
      }
  });
}

/** Samples of a picture by plane, in steps of 8 bits; what stands for nothing in four bytes is left out. */
function samplesOf(planes: readonly Buffer[], layout: PixelLayout): number[][] {
  const lift = liftOf[layout.name];
  return layout.planes.map((plane, i) => {
    const all: number[] = [];
    for (let y = 0; y < plane.rows; y++)
      for (let x = 0; x < plane.lineBytes; x += lift === undefined ? 1 : 2) {
        if (layout.name === 'bgr0' && x % 4 === 3) continue;
        const at = y * plane.strideBytes + x;
        all.push(lift === undefined ? planes[i]![at]! : planes[i]!.readUInt16LE(at) / 2 ** lift / 4);
      }
    return all;
  });
}

function sizedBoth(choice: Choice) {
  const recipe = recipeOf(choice);
  const [fromWidth, fromHeight] = sizes[choice.size];
  const source = pixelLayout(choice.source, fromWidth, fromHeight, false);
  const target = pixelLayout(nativePixels(recipe.encode).name, recipe.size.widthPx, recipe.size.heightPx, true);
  const pools = createPicturePools({ slots: 2, layout: source }, { slots: 3, layout: target }, recipe);
  const from = openSlotPool(pools.sourcePool).planes(1);
  const pool = openSlotPool(pools.sizedPool!);
  paint(from, source);
  // Bars are black whatever lay there before; the pictures beside stay as they are.
  for (const slot of [0, 1, 2]) pool.planes(slot).forEach((plane) => plane.fill(0xa5));
  const sizer = createSizer(source, target, recipe, pools.conversion);
  sizer.run(from, pool.planes(1));
  sizer.run(from, pool.planes(1));
  sizer.free();
  const byFilters = planesOver(new SharedArrayBuffer(target.bytes + 4096), 0, target);
  const filters = filterSizer(source, target, recipe);
  filters.run(from, byFilters);
  filters.free();
  const beside = [0, 2].flatMap((slot) => pool.planes(slot).map((plane) => plane.every((byte) => byte === 0xa5)));
  return {
    way: sizingWay(source, target, recipe),
    found: samplesOf(pool.planes(1), target),
    wanted: samplesOf(byFilters, target),
    beside,
  };
}

const report = choices.map((choice) => {
  const { way, found, wanted, beside } = sizedBoth(choice);
  const planes = found.map((plane, i) => {
    const differences = plane.map((sample, at) => Math.abs(sample - wanted[i]![at]!));
    return {
      mean: differences.reduce((sum, d) => sum + d, 0) / differences.length,
      largest: differences.reduce((most, d) => Math.max(most, d), 0),
    };
  });
  return { name: Object.values(choice).flat().join(' '), way, planes, besideUntouched: beside.every(Boolean) };
});
process.stdout.write(JSON.stringify(report));
