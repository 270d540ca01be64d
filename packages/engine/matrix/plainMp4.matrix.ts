import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { rescueResultSchema, type LiveTake, type PartFile, type Recipe, type TakeOrder } from '@mellow/model';
import { ledgerNames, runMediaJob, startRecorder } from '@mellow/engine';
import { packetIndexPath } from '../src/container/packetIndex';
import { openTakeBench, type TakeBench, type TakeChange } from '../test/support/drivenTake';
import { decodeSound, probePictures, probeStreams, readStripsOf } from '../test/support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

type Live = Omit<LiveTake, 'setupId' | 'number'>;

/** Rolls an order with a recorder of its own, which is killed when it is time. @returns the parts that were begun after the first */
async function killed(order: TakeOrder, isTime: (live: Live) => boolean): Promise<PartFile[]> {
  const recorder = await startRecorder();
  const parts: PartFile[] = [];
  await new Promise<void>((resolve, reject) => {
    recorder.onExit(() => resolve());
    recorder.onEvent((event) => {
      if (event.type === 'refused') reject(new Error(event.text));
      if (event.type === 'part') parts.push(event.part);
      if (event.type === 'live' && isTime(event.live)) recorder.kill();
    });
    recorder.roll(order);
  });
  return parts;
}

const lane = (codec: Recipe['lanes'][number]['codec']): Recipe['lanes'] => [
  { name: 'Game', sources: ['game'], codec, bitrateKbps: 160 },
];
const plain = (change: TakeChange): TakeOrder =>
  bench.orderOf({
    ...change,
    recipe: { container: 'mp4', rate: { num: 30, den: 1 }, ...change.recipe },
    order: { clock: 'real', dueFrames: 3000, openEnd: true, ...change.order },
  });

it.each([
  ['avc-software', 'aac', 2],
  ['hevc-software', 'flac', 0],
  ['av1-software', 'opus', 0],
  ['vp9-software', 'aac', 0],
  ['mjpeg-software', 'aac', 0],
] as const)(
  'a plain MP4 of %s with %s and %d B-frames is built anew from its packets when its recorder dies',
  async (encoder, codec, bFrames) => {
    const order = plain({
      recipe: { lanes: lane(codec) },
      encode: { encoder, bFrames, keyDistanceFrames: 30, effort: 'lightest' },
    });
    let bytesSafe = 0;
    let dueThen = 0;
    let filedThen = 0;
    await killed(order, (live) => {
      [bytesSafe, dueThen] = [live.durableBytes, live.due];
      // A PC that is busy with others loses some.
      filedThen = live.fates.new + live.fates.repeat;
      return live.due > 120 && live.durableBytes > 0;
    });
    expect(bytesSafe).toBeGreaterThan(0);
    expect(probeFails(order.filePath)).toBe(true);
    const found = rescueResultSchema.parse(
      await runMediaJob({
        kind: 'rescue',
        ledgerFolder: order.ledgerFolder,
        filePath: order.filePath,
        identity: order.identity,
        fallbackFolder: join(bench.folder, 'kept'),
        dueHeard: dueThen,
      }),
    );
    expect(found).toMatchObject({ filePath: order.filePath, openPath: '', disagreements: [] });
    const pictures = probePictures(order.filePath);
    expect(pictures.length).toBe(found.facts?.picture.packets);
    // AV1 in software holds the most pictures back.
    expect(pictures.length).toBeGreaterThan(filedThen - (encoder === 'av1-software' ? 90 : 60));
    expect(probeStreams(order.filePath).map(({ codec_type }) => codec_type)).toEqual(['video', 'audio']);
    // Every picture is the one its row says.
    const strips = readStripsOf(order.filePath, order.recipe.size, order.game);
    expect(strips.flatMap(({ strip }, n) => (strip === null ? [n] : []))).toEqual([]);
    const soundS = decodeSound(order.filePath, 0).length / 48_000;
    expect(Math.abs(soundS - pictures.length / 30)).toBeLessThan(1.5);
  },
  60_000,
);

it('the open part of several is built anew, and the closed ones are left as they are', async () => {
  const order = plain({
    recipe: { lanes: lane('aac') },
    encode: { keyDistanceFrames: 30 },
    order: { parts: { everyFrames: 60, mostBytes: null, next: [] } },
  });
  const begun = await killed(order, (live) => live.parts === 3 && live.due > 160);
  expect(begun).toHaveLength(2);
  // Only what may still be open is kept an index of.
  expect([1, 2, 3].map((part) => existsSync(packetIndexPath(order.ledgerFolder, part)))).toEqual([false, true, true]);
  const [second, third] = begun as [PartFile, PartFile];
  const found = rescueResultSchema.parse(
    await runMediaJob({
      kind: 'rescue',
      ledgerFolder: order.ledgerFolder,
      filePath: third.path,
      identity: third.identity,
      earlier: [{ path: order.filePath, startUs: 0 }, second],
      startUs: third.startUs,
      fallbackFolder: join(bench.folder, 'kept'),
      dueHeard: 160,
    }),
  );
  expect(found).toMatchObject({ disagreements: [], emptyLast: false });
  const counts = [order.filePath, second.path, third.path].map((path) => probePictures(path).length);
  expect(counts.slice(0, 2)).toEqual([60, 60]);
  expect(found.facts?.picture.packets).toBe(counts.reduce((a, b) => a + b, 0));
}, 60_000);

it('a take that closes well leaves nothing behind of it', async () => {
  const take = await bench.make({ recipe: { container: 'mp4', lanes: lane('aac') } });
  expect(take.result.closedWell).toBe(true);
  expect(existsSync(packetIndexPath(take.order.ledgerFolder, 1))).toBe(false);
  expect(existsSync(join(dirname(join(take.order.ledgerFolder, ledgerNames.header)), 'packets.head'))).toBe(false);
});

function probeFails(path: string): boolean {
  try {
    return probePictures(path).length === 0;
  } catch {
    return true;
  }
}
