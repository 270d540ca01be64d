import { isGrabbed, onePart, type MediaFacts, type PracticeGame, type Recipe, type SampleSource } from '@mellow/model';
import { isRgbFormat } from '../picture/pixelFormat';
import { framesPerSecond } from '../units';

/** Below this a sample would show steps that no trial at a usual rate has. */
const leastFps = 48;

/** Rates of samples: the recipe's, doubled until motion is whole at every rate that trials are likely to ask for. */
function sampleRate({ rate }: Recipe): Recipe['rate'] {
  let num = rate.num;
  while (num / rate.den < leastFps) num *= 2;
  return { num, den: rate.den };
}

/**
 * How a sample of a setup's source is recorded: every pixel as it comes, nothing lost, no sound, cheap for the processor. Red,
 * green and blue from the screen; 4:2:0 from the practice game, which draws so.
 */
export function sampleRecipe(recipe: Recipe, game: PracticeGame): Recipe {
  const { source } = recipe;
  const { widthPx, heightPx } = isGrabbed(source) ? source : game;
  return {
    ...recipe,
    rate: sampleRate(recipe),
    size: { ...recipe.size, widthPx, heightPx, fit: 'stretch' },
    encode: {
      ...recipe.encode,
      encoder: 'utvideo-software',
      rateControl: 'lossless',
      pixels: isGrabbed(source) ? 'rgb' : '4:2:0',
      range: 'limited',
      matrix: 'bt709',
    },
    camera: null,
    lanes: [],
    leadIn: 'none',
    container: 'matroska',
    rewrap: false,
    discardSource: false,
    parts: onePart,
    nextDriveIds: [],
  };
}

/** A file as a sample. @returns a sentence where it cannot be one */
export function sampleOf(facts: MediaFacts, path: string, name: string): SampleSource | string {
  const { widthPx, heightPx, packets, firstUs, endUs, rate, pixelFormat } = facts.picture;
  if (packets < 2 || firstUs === null || endUs === null || endUs <= firstUs)
    return 'It holds no moving picture: a sample needs two pictures at least.';
  if (widthPx < 64 || heightPx < 64 || widthPx > 7680 || heightPx > 4320)
    return `Its picture is ${widthPx}×${heightPx}; samples have 64×64 to 7680×4320.`;
  const lengthUs = endUs - firstUs;
  const found = rate ?? { num: Math.round((packets * 1e9) / lengthUs), den: 1000 };
  const fps = framesPerSecond(found);
  if (!(fps >= 1 && fps <= 480)) return `It has ${fps.toFixed(2)} pictures a second; samples have 1 to 480.`;
  return {
    kind: 'sample',
    path,
    name: name.slice(0, 120),
    ...{ widthPx, heightPx, lengthUs },
    pixels: isRgbFormat(pixelFormat) ? 'bgr0' : 'yuv420p',
    rate: found,
    frames: packets,
  };
}
