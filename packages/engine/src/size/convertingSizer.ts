import type { Recipe } from '@mellow/model';
import { openPixelConverter, type Halved, type PlaneAt } from '../convert/pixelConverter';
import { blackOf, planesOver, type PixelLayout } from '../native/pixelLayout';
import { openPlaneScaler, type PictureLayoutPart, type PlaneScaler } from './planeScaler';
import { blackBeside, hasBars, partsOf, startOf, type Part } from './sizedParts';
import type { ConversionRoom, Sizer } from './sizer';
import { betweenLayout, colourBytes, fileSamples, gameSamples, liftOf, type ConvertingWay } from './sizingWay';

type Step = (source: readonly Buffer[], target: readonly Buffer[]) => void;

/** Size in the memory that the pictures lie in: converted by the kernel, scaled by the library where sizes differ. */
export function createConvertingSizer(
  source: PixelLayout,
  target: PixelLayout,
  recipe: Recipe,
  way: ConvertingWay,
  room: ConversionRoom,
): Sizer {
  const converter = openPixelConverter(room.memory);
  const { from, to } = partsOf(source, recipe);
  const samples = fileSamples(recipe);
  const layout = betweenLayout(source, target, recipe, way);
  const between = layout && { layout, planes: planesOver(room.memory.buffer, room.betweenAt, layout) };
  const blacks = hasBars(to, target) ? blackOf(target.name, samples.range) : null;
  const scalers: PlaneScaler[] = [];
  const step = stepFor();
  return {
    run(sourcePlanes, targetPlanes) {
      if (blacks) targetPlanes.forEach((plane, i) => plane.fill(blacks[i] ?? 0));
      step(sourcePlanes, targetPlanes);
      if (blacks) blackBeside(targetPlanes, target, to, blacks);
    },
    free: () => scalers.forEach((scaler) => scaler.free()),
  };

  function stepFor(): Step {
    switch (way) {
      case 'from-colours':
        return between
          ? colourScaled(between)
          : (planes, into) => convertColours(planes, { layout: target, part: to }, into);
      case 'to-colours':
        if (!between) throw new Error('colours are made from a picture between');
        return intoColours(between);
      case 'other-matrix':
        return between ? matrixScaled(between) : (planes, into) => convertMatrix(source, from, planes, into);
    }
  }

  function convertColours(planes: readonly Buffer[], into: PictureLayoutPart, intoPlanes: readonly Buffer[]): void {
    const picture = planesAt(source, from, planes)[0]!;
    const size = { widthPx: from.widthPx, rows: from.heightPx };
    const found = planesAt(into.layout, into.part, intoPlanes);
    const lift = liftOf[into.layout.name];
    // Between two steps differences lie as everywhere; the second brings them to where JPEG has them.
    const placed = { ...samples, centred: into.layout.name === 'yuvj420p' };
    if (into.layout.name === 'yuv444p') converter.toFull(picture, found, size, placed, 8);
    else if (into.layout.name === 'yuv444p10le') converter.toFull(picture, found, size, placed, 10);
    else converter.toHalved(picture, halvedAt(into.layout, found), size, placed, lift === undefined ? null : { lift });
  }

  function colourScaled(middle: Between): Step {
    const into = { layout: middle.layout, part: wholeOf(middle.layout) };
    const scaler = opened(into, { layout: target, part: to });
    return (planes, intoPlanes) => {
      convertColours(planes, into, middle.planes);
      scaler.run(middle.planes, intoPlanes);
    };
  }

  function intoColours(middle: Between): Step {
    const whole = wholeOf(middle.layout);
    const scaler = opened({ layout: source, part: from }, { layout: middle.layout, part: whole });
    return (planes, into) => {
      scaler.run(planes, middle.planes);
      const found = planesAt(middle.layout, whole, middle.planes);
      const size = { widthPx: whole.widthPx, rows: whole.heightPx };
      converter.toColours(found, planesAt(target, to, into), colourBytes[target.name] ?? 1, size, gameSamples);
    };
  }

  function matrixScaled(middle: Between): Step {
    const whole = wholeOf(middle.layout);
    const scaler = opened({ layout: source, part: from }, { layout: middle.layout, part: whole });
    return (planes, into) => {
      scaler.run(planes, middle.planes);
      convertMatrix(middle.layout, whole, middle.planes, into);
    };
  }

  function convertMatrix(layout: PixelLayout, part: Part, planes: readonly Buffer[], into: readonly Buffer[]): void {
    const [from, found] = [planesAt(layout, part, planes), planesAt(target, to, into)];
    const size = { widthPx: to.widthPx, rows: to.heightPx };
    const both = { from: gameSamples, into: samples };
    const lift = liftOf[target.name];
    if (target.name === 'yuv444p') converter.toOtherFull(from, found, size, both);
    else
      converter.toOther(
        halvedAt(layout, from),
        halvedAt(target, found),
        size,
        both,
        lift === undefined ? null : { lift },
      );
  }

  function opened(scaled: PictureLayoutPart, into: PictureLayoutPart): PlaneScaler {
    const scaler = openPlaneScaler(scaled, into, recipe.size.filter);
    scalers.push(scaler);
    return scaler;
  }
}

interface Between {
  layout: PixelLayout;
  planes: Buffer[];
}

function wholeOf({ widthPx, heightPx }: PixelLayout): Part {
  return { leftPx: 0, topPx: 0, widthPx, heightPx };
}

/** Where a part of a picture begins in each plane, as addresses in the memory that the planes lie in. */
function planesAt(layout: PixelLayout, part: Part, planes: readonly Buffer[]): PlaneAt[] {
  return layout.planes.map((plane, i) => ({
    at: (planes[i]?.byteOffset ?? 0) + startOf(plane, part),
    strideBytes: plane.strideBytes,
  }));
}

/** Luma and both differences; in turn in one plane they begin one sample apart. */
function halvedAt(layout: PixelLayout, planes: readonly PlaneAt[]): Halved {
  const [luma, blue, red] = planes;
  if (!luma || !blue) throw new RangeError('a picture has no such plane');
  const inTurn = layout.name === 'p010le' ? 2 : 1;
  return { luma, blue, red: red ?? { ...blue, at: blue.at + inTurn }, step: red ? 1 : 2 };
}
