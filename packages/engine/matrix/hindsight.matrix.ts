import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { encoderFacts, plainPracticeGame, recipeClashes, startRecipe, withEncoder } from '@mellow/core';
import { reserveFile, runMediaJob, startRecorder } from '@mellow/engine';
import { encoders, type Lane, type Recipe } from '@mellow/model';
import { openTakeBench, type TakeBench, type TakeChange } from '../test/support/drivenTake';
import { expectPartOf, holding, takeWithClips } from '../test/support/keptClip';
import { probePictures } from '../test/support/probe';
import { pairwise, type Combination } from './pairwise';
import { soaks } from './soak';

/** Clips of every encoder, container, rate and kind of sound, from memory and from the drive, against their own take. */
jest.setTimeout(60_000);

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const lane = (name: string, codec: Lane['codec']): Lane => ({ name, sources: ['game'], codec, bitrateKbps: 128 });
const laneSets: Record<string, Lane[]> = {
  none: [],
  flac: [lane('Game', 'flac')],
  three: [lane('A', 'opus'), lane('Б', 'flac'), lane('Größe', 'aac')],
};
const softwareEncoders = encoders.filter((one) => encoderFacts[one].place === 'software');
const parameters = {
  encoder: softwareEncoders,
  lanes: Object.keys(laneSets),
  container: ['matroska', 'fragmented-mp4', 'mp4'],
  rate: [
    [24_000, 1001],
    [30, 1],
    [60, 1],
  ],
  bFrames: [0, 1, 2],
  groups: ['closed', 'open'],
  where: ['memory', 'drive'],
} as const;
type Choice = Combination<typeof parameters>;

function changeOf(choice: Choice): TakeChange {
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd');
  const base = withEncoder(start, choice.encoder);
  const [num, den] = choice.rate;
  return {
    game: { widthPx: 320, heightPx: 180, strip: false },
    recipe: { container: choice.container, lanes: laneSets[choice.lanes] ?? [], rate: { num, den } },
    size: { widthPx: 320, heightPx: 180 },
    encode: {
      ...base.encode,
      effort: 'lightest',
      bFrames: Math.min(choice.bFrames, encoderFacts[choice.encoder].mostBFrames),
      closedGroups: choice.groups === 'closed',
      keyDistanceFrames: Math.round(num / den),
    },
    order: { dueFrames: Math.round((4.5 * num) / den) },
  };
}

function fits(choice: Choice): boolean {
  const facts = encoderFacts[choice.encoder];
  if (!facts.containers.includes(choice.container)) return false;
  const change = changeOf(choice);
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd');
  const recipe: Recipe = {
    ...start,
    ...change.recipe,
    size: { ...start.size, ...change.size },
    encode: { ...start.encode, ...change.encode },
  };
  return !recipeClashes(recipe).some(({ weight }) => weight === 'stops');
}

// Half of the walk has every value several times; npm run soak walks every pair.
const walked = pairwise(parameters, fits).filter((__, i) => soaks || i % 2 === 0);
it.each(walked.map((choice) => [Object.values(choice).join(' '), choice] as const))(
  'a clip of %s',
  async (_, choice) => {
    const fps = choice.rate[0] / choice.rate[1];
    const asks = [
      { due: Math.round(2.2 * fps), lastS: 1 },
      { due: Math.round(3.6 * fps), lastS: 2 },
    ];
    const { take, clips } = await takeWithClips(bench, changeOf(choice), { where: choice.where }, asks);
    clips.forEach((clip, i) => expectPartOf(take, clip, asks[i]?.lastS ?? 0));
  },
);

it('keeps them from the drive in a fragmented MP4, and leaves nothing of the pieces behind', async () => {
  const asks = [
    { due: 150, lastS: 3 },
    { due: 152, lastS: 2 },
    { due: 420, lastS: 12 },
  ];
  const { take, clips } = await takeWithClips(
    bench,
    {
      recipe: { rate: { num: 30, den: 1 }, container: 'fragmented-mp4' },
      encode: { keyDistanceFrames: 15, bFrames: 2 },
      order: { dueFrames: 450 },
    },
    { where: 'drive' },
    asks,
  );
  clips.forEach((clip, i) => expectPartOf(take, clip, asks[i]?.lastS ?? 0));
  expect(existsSync(join(bench.folder, 'held'))).toBe(false);
}, 90_000);

it('finds what a recorder held on the drive when it was killed, up to two seconds before', async () => {
  const recorder = await startRecorder();
  const folder = join(bench.folder, 'left');
  const order = bench.orderOf({
    recipe: { rate: { num: 30, den: 1 } },
    encode: { keyDistanceFrames: 30, bFrames: 2 },
    order: {
      clock: 'real',
      dueFrames: 3000,
      openEnd: true,
      unfiled: true,
      hindsight: holding(bench, { where: 'drive', folder }),
    },
  });
  const gone = new Promise<void>((resolve) => void recorder.onExit(() => resolve()));
  let dueAtDeath = 0;
  recorder.onEvent((event) => {
    if (event.type !== 'live') return;
    dueAtDeath = Math.max(dueAtDeath, event.live.due);
    if (event.live.due > 420) recorder.kill();
  });
  recorder.roll(order);
  await gone;
  const target = reserveFile(join(bench.folder, 'left.mkv'));
  const facts = await runMediaJob({
    kind: 'gather-hindsight',
    folder,
    outPath: target.path,
    identity: target.identity,
  });
  expect(facts).toMatchObject({ startUs: 0 });
  const pictures = probePictures(target.path);
  expect(pictures[0]?.key).toBe(true);
  // A second of a cluster, half a second on its way, what the encoder held: two and a half at the most.
  expect((pictures.at(-1)?.timeUs ?? 0) / 1e6).toBeGreaterThan(dueAtDeath / 30 - 2.5);
}, 60_000);
