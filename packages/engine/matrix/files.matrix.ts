import { join } from 'node:path';
import {
  containerTakesSound,
  encoderFacts,
  recipeClashes,
  startRecipe,
  plainPracticeGame,
  takeFacts,
  withEncoder,
} from '@mellow/core';
import { ledgerNames, runMediaJob } from '@mellow/engine';
import {
  encoders,
  eyeTunings,
  likenessSchema,
  matrices,
  pixelKinds,
  rewrapResultSchema,
  type Lane,
  type Recipe,
  type RateControl,
} from '@mellow/model';
import { openTakeBench, type MadeTake, type TakeBench, type TakeChange } from '../test/support/drivenTake';
import { expectConstantMp4, expectFileHolds, expectStripsHold } from './heldAgainstTools';
import { pairwise, type Combination } from './pairwise';
import { soaks } from './soak';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const rates = ['24000/1001', '24', '25', '30000/1001', '30', '50', '60000/1001', '60', '120', '144', '240'] as const;
const rateOf = (text: string): Recipe['rate'] => {
  const [num, den] = text.split('/').map(Number);
  return { num: num ?? 60, den: den ?? 1 };
};
const lane = (name: string, codec: Lane['codec']): Lane => ({ name, sources: ['game'], codec, bitrateKbps: 128 });
const laneSets: Record<string, Lane[]> = {
  none: [],
  flac: [lane('Alles, zusammen', 'flac')],
  pcm: [lane('Game', 'pcm')],
  aac: [lane('Größe Ω 声', 'aac')],
  opus: [lane('Voice', 'opus')],
  three: [lane('A', 'aac'), lane('Б', 'flac'), lane('C', 'aac')],
};
const sizes: Record<string, [number, number]> = {
  own: [640, 360],
  half: [320, 180],
  near: [426, 240],
  wide: [480, 200],
  tall: [360, 360],
  odd: [321, 181],
};

const softwareEncoders = encoders.filter((one) => encoderFacts[one].place === 'software');
const parameters = {
  encoder: softwareEncoders,
  rateControl: [
    'constant-quality',
    'constant-quantiser',
    'constant-bitrate',
    'variable-bitrate',
    'lossless',
    'picture-by-picture',
  ],
  pixels: pixelKinds,
  matrix: matrices,
  lookAhead: ['own', 0, 10, 40],
  eyeTuning: eyeTunings,
  easyDecode: [false, true],
  range: ['limited', 'full'],
  container: ['matroska', 'fragmented-mp4', 'mp4'],
  lanes: Object.keys(laneSets),
  rate: rates,
  size: Object.keys(sizes),
  fit: ['bars', 'fill', 'stretch'],
  filter: ['bilinear', 'lanczos', 'area', 'nearest'],
  effort: ['lightest', 'light', 'middle'],
  bFrames: [0, 1, 2],
  groups: ['closed', 'open'],
} as const;
type Choice = Combination<typeof parameters>;

function changeOf(choice: Choice): TakeChange {
  const [widthPx, heightPx] = sizes[choice.size]!;
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd');
  const base = withEncoder(start, choice.encoder);
  return {
    recipe: { container: choice.container, lanes: laneSets[choice.lanes]!, rate: rateOf(choice.rate) },
    size: { widthPx, heightPx, fit: choice.fit, filter: choice.filter },
    encode: {
      ...base.encode,
      rateControl: choice.rateControl as RateControl,
      pixels: choice.pixels,
      range: choice.range,
      matrix: choice.matrix,
      lookAheadFrames:
        choice.lookAhead === 'own' ? null : Math.min(choice.lookAhead, encoderFacts[choice.encoder].mostLookAhead),
      eyeTuning: choice.eyeTuning,
      easyDecode: choice.easyDecode,
      effort: choice.effort,
      bFrames: Math.min(choice.bFrames, encoderFacts[choice.encoder].mostBFrames),
      closedGroups: choice.groups === 'closed',
      keyDistanceFrames: 30,
      bitrateKbps: 1500,
      ceilingKbps: 2500,
      quality: 20,
    },
    order: { dueFrames: 100, keepPictures: true },
  };
}

function fits(choice: Choice): boolean {
  const facts = encoderFacts[choice.encoder];
  if (!facts.rateControls.includes(choice.rateControl) || !facts.pixels.includes(choice.pixels)) return false;
  if (!facts.containers.includes(choice.container)) return false;
  const change = changeOf(choice);
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd');
  const recipe: Recipe = {
    ...start,
    ...change.recipe,
    size: { ...start.size, ...change.size },
    encode: { ...start.encode, ...change.encode },
  };
  return !recipeClashes(recipe).some((clash) => clash.weight === 'stops');
}

const nameOf = (choice: Choice): string => Object.values(choice).join(' ');

/** A plain MP4 takes its tracks. */
const rewraps = ({ recipe }: { recipe: Recipe }): boolean =>
  encoderFacts[recipe.encode.encoder].containers.includes('mp4') &&
  recipe.lanes.every((own) => containerTakesSound('mp4', own.codec));

/** Strips are read where the picture keeps its shape and is not much smaller. */
const stripsShow = (choice: Choice): boolean =>
  (choice.size === 'own' || choice.size === 'half') &&
  choice.filter !== 'nearest' &&
  choice.rateControl !== 'constant-bitrate';

/** The verdict's own table: nothing that was asked is found otherwise, and lossless is exact in every picture that was kept. */
async function expectFactsHold({ order, result }: MadeTake): Promise<void> {
  const { recipe, game } = order;
  const likeness = likenessSchema.parse(
    await runMediaJob({
      kind: 'compare-kept',
      keptPath: join(order.ledgerFolder, ledgerNames.kept),
      filePath: result.filePath,
      widthPx: recipe.size.widthPx,
      heightPx: recipe.size.heightPx,
      rate: recipe.rate,
      fileOffsetUs: result.fileOffsetUs ?? 0,
    }),
  );
  const facts = takeFacts({
    ...{
      recipe,
      game,
      source: order.source,
      likeness,
      unpaced: null,
      camera: null,
      end: 'length',
      state: 'closed',
      sounds: result.sounds,
    },
    facts: result.facts,
    summary: result.summary,
    lengthS: (order.dueFrames * recipe.rate.den) / recipe.rate.num,
  });
  expect(facts.filter(({ holds }) => holds === false)).toEqual([]);
  expect(likeness.ssim).toBeGreaterThan(0.6);
}

describe('every pair of choices', () => {
  const choices = pairwise(parameters, fits);
  it('is a real walk', () => expect(choices.length).toBeGreaterThan(60));
  it.each(choices.map((choice) => [nameOf(choice), choice] as const))('%s', async (_name, choice) => {
    const take = await bench.make(changeOf(choice));
    expectFileHolds(take);
    await expectFactsHold(take);
    if (stripsShow(choice)) expectStripsHold(take);
    if (!rewraps(take.order)) return;
    const job = {
      kind: 'rewrap' as const,
      filePath: take.result.filePath,
      outPath: join(bench.folder, `${take.order.takeId} plain.mp4`),
      rate: take.order.recipe.rate,
    };
    expectConstantMp4(take, rewrapResultSchema.parse(await runMediaJob(job)).filePath);
  });
});

describe('long takes: 2 000 frames, every rate, every container', () => {
  const containers = ['matroska', 'fragmented-mp4', 'mp4'] as const;
  const twoLanes = {
    matroska: [lane('O', 'opus'), lane('F', 'flac')],
    'fragmented-mp4': [lane('F', 'flac'), lane('O', 'opus')],
    mp4: [lane('A', 'aac'), lane('F', 'flac')],
  };
  const long = rates.flatMap((rate, i) =>
    containers.filter((_, c) => soaks || c === i % containers.length).map((container) => ({ rate, container })),
  );
  it.each(long)('$rate in $container, with two lanes, B-frames and a re-wrap', async ({ rate, container }) => {
    const take = await bench.make({
      recipe: { container, lanes: twoLanes[container], rate: rateOf(rate) },
      size: { widthPx: 320, heightPx: 180 },
      encode: { effort: 'light', bFrames: 2, keyDistanceFrames: 120 },
      game: { widthPx: 320, heightPx: 180, strip: false },
      order: { dueFrames: 2000 },
    });
    expectFileHolds(take);
    const job = {
      kind: 'rewrap' as const,
      filePath: take.result.filePath,
      outPath: join(bench.folder, `${take.order.takeId} plain.mp4`),
      rate: take.order.recipe.rate,
    };
    expectConstantMp4(take, rewrapResultSchema.parse(await runMediaJob(job)).filePath);
  });
});

describe('holes across the end of a fragment', () => {
  it.each(['fragmented-mp4', 'matroska', 'mp4'] as const)('in %s show no picture early', async (container) => {
    const script = [
      { kind: 'encode-fails' as const, fromDue: 55, toDue: 63 },
      { kind: 'encode-fails' as const, fromDue: 118, toDue: 122 },
    ];
    const take = await bench.make({
      recipe: { container, lanes: [lane('A', 'aac')] },
      order: { dueFrames: 240, script },
    });
    expect(take.result.disagreements).toEqual([]);
    expect(take.result.summary.fates['encode-miss']).toBe(12);
    expect(take.result.summary.fates['write-miss']).toBe(0);
    expectStripsHold(take);
  });
});
