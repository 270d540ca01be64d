import * as fc from 'fast-check';
import {
  cameraWheres,
  containers,
  efforts,
  encoders,
  eyeTunings,
  matrices,
  priorities,
  fits,
  pixelKinds,
  leadIns,
  practiceSounds,
  practiceSource,
  profiles,
  rateControls,
  scalingFilters,
  soundCodecs,
  subfolders,
  type TakeName,
  type Recipe,
} from '@mellow/model';
import { plainPracticeGame, startRecipe } from './index';

export const baseRecipe = startRecipe({ purpose: 'long-play', sessionMinutes: 90 }, plainPracticeGame, 'footage');

const lane = fc.record({
  name: fc.constantFrom('Everything', 'Voice', 'Game', 'Chat'),
  sources: fc.subarray(
    practiceSounds.map(({ id }) => id),
    { minLength: 1 },
  ),
  codec: fc.constantFrom(...soundCodecs),
  bitrateKbps: fc.constantFrom(64, 96, 160, 320),
});

/** Recipes over every setting, sensible and not. */
export const anyRecipe: fc.Arbitrary<Recipe> = fc.record({
  source: fc.constant(practiceSource),
  rate: fc.constantFrom(
    { num: 20, den: 1 },
    { num: 24000, den: 1001 },
    { num: 25, den: 1 },
    { num: 30, den: 1 },
    { num: 30000, den: 1001 },
    { num: 50, den: 1 },
    { num: 60, den: 1 },
    { num: 120, den: 1 },
    { num: 240, den: 1 },
  ),
  size: fc.record({
    widthPx: fc.integer({ min: 64, max: 4000 }),
    heightPx: fc.integer({ min: 64, max: 2200 }),
    filter: fc.constantFrom(...scalingFilters),
    fit: fc.constantFrom(...fits),
  }),
  encode: fc.record({
    encoder: fc.constantFrom(...encoders),
    pixels: fc.constantFrom(...pixelKinds),
    profile: fc.constantFrom(...profiles),
    threads: fc.integer({ min: 0, max: 8 }),
    quantiser: fc.integer({ min: 1, max: 31 }),
    effort: fc.constantFrom(...efforts),
    rateControl: fc.constantFrom(...rateControls),
    quality: fc.integer({ min: 0, max: 63 }),
    bitrateKbps: fc.integer({ min: 100, max: 90_000 }),
    ceilingKbps: fc.integer({ min: 100, max: 90_000 }),
    keyDistanceFrames: fc.constantFrom(5, 15, 30, 60, 120, 600, 1500),
    closedGroups: fc.boolean(),
    bFrames: fc.integer({ min: 0, max: 4 }),
    lowDelay: fc.boolean(),
    range: fc.constantFrom('limited' as const, 'full' as const),
    matrix: fc.constantFrom(...matrices),
    easyDecode: fc.boolean(),
    lookAheadFrames: fc.constantFrom(null, 0, 1, 10, 40),
    eyeTuning: fc.constantFrom(...eyeTunings),
    card: fc.constantFrom(null, 0, 3),
  }),
  camera: fc.option(
    fc.record({
      from: fc.constant({ kind: 'stand-in' as const }),
      where: fc.constantFrom(...cameraWheres),
      widthPx: fc.constantFrom(320, 640, 1280),
      heightPx: fc.constantFrom(180, 360, 720),
      fps: fc.constantFrom(15, 30, 60),
      leftShare: fc.double({ min: 0, max: 1, noNaN: true }),
      topShare: fc.double({ min: 0, max: 1, noNaN: true }),
      widthShare: fc.double({ min: 0.05, max: 1, noNaN: true }),
      opacity: fc.constantFrom(0.3, 1),
    }),
  ),
  priority: fc.constantFrom(...priorities),
  sounds: fc.constant(practiceSounds.map((sound) => ({ ...sound }))),
  leadIn: fc.constantFrom(...leadIns),
  lanes: fc.array(lane, { maxLength: 6 }),
  container: fc.constantFrom(...containers),
  rewrap: fc.boolean(),
  driveId: fc.constantFrom('footage', 'kestrel-barn', 'kestrel-attic', 'kestrel-games'),
  file: fc.record({
    subfolder: fc.constantFrom(...subfolders),
    name: fc.constantFrom<TakeName>(
      [{ word: 'game' }, { word: 'number' }],
      [{ word: 'game' }],
      [{ text: 'run' }, { word: 'day' }],
    ),
  }),
  parts: fc.constantFrom<Recipe['parts']>(
    { by: 'none' },
    { by: 'length', minutes: 10 },
    { by: 'size', megabytes: 4000 },
  ),
  nextDriveIds: fc.constantFrom([], ['kestrel-barn'], ['kestrel-games', 'kestrel-barn']),
  ceilingMinutes: fc.constantFrom(null, 30, 90, 240),
});
