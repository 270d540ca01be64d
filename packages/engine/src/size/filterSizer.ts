import { fileMatrix, fileRange } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import { Frame } from 'node-av/lib';
import { createNativeFrame, fillNativeFrame, readNativeFrame, sourceTags } from '../native/pictureFrames';
import { openPictureFilter } from './pictureFilter';
import type { PixelLayout } from '../native/pixelLayout';
import { scalingMethods } from './planeScaler';
import { hasBars, partsOf } from './sizedParts';
import { fileSamples } from './sizingWay';
import type { Sizer } from './sizer';

/** Size by the library's filters, which scale and convert in frames of their own: two copies more. */
export function filterSizer(source: PixelLayout, target: PixelLayout, recipe: Recipe): Sizer {
  const { from, to } = partsOf(source, recipe);
  const pixels = source.name === 'bgr0' ? 'bgr0' : 'yuv420p';
  const tags = sourceTags[pixels];
  const inRange = pixels === 'bgr0' ? 'pc' : 'tv';
  const crop = `crop=${from.widthPx}:${from.heightPx}:${from.leftPx}:${from.topPx}`;
  // A single colour sample for each pixel, made with all the care the library has: half a step is the most it is off then.
  const flags = `${scalingMethods[recipe.size.filter].name}+accurate_rnd+full_chroma_int+full_chroma_inp`;
  const range = fileRange(recipe) === 'full' ? 'pc' : 'tv';
  const matrix = { rgb: 'bt709', bt601: 'bt601', bt709: 'bt709' }[fileMatrix(recipe)];
  const scale = `scale=${to.widthPx}:${to.heightPx}:flags=${flags}:in_range=${inRange}:in_color_matrix=bt709:out_color_matrix=${matrix}:out_range=${range}:in_chroma_loc=left:out_chroma_loc=${fileSamples(recipe).centred ? 'center' : 'left'}`;
  const pad = `pad=${target.widthPx}:${target.heightPx}:${to.leftPx}:${to.topPx}:color=black`;
  const chain = [crop, scale, `format=${target.name}`, ...(hasBars(to, target) ? [pad] : [])].join(',');
  const filter = openPictureFilter(
    {
      widthPx: source.widthPx,
      heightPx: source.heightPx,
      pixels,
      ...(pixels === 'bgr0'
        ? { range: 'full' as const, matrix: 'gbr' }
        : { range: 'limited' as const, matrix: 'bt709' }),
    },
    chain,
  );
  const input = createNativeFrame(source.widthPx, source.heightPx, tags, tags.format);
  const output = new Frame();
  output.alloc();
  let count = 0n;
  return {
    run(sourcePlanes, targetPlanes) {
      fillNativeFrame(input, sourcePlanes, source);
      input.pts = count++;
      output.unref();
      filter.run(input, output);
      readNativeFrame(output, targetPlanes, target);
    },
    free() {
      filter.free();
      input.free();
      output.free();
    },
  };
}
