import { statSync } from 'node:fs';
import { join } from 'node:path';
import { reserveFile } from '@mellow/engine';
import { openTakeBench, type TakeBench } from './support/drivenTake';
import { expectPartOf, holding, takeWithClips } from './support/keptClip';
import { probePictures } from './support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

it('keeps parts of a rolling take from memory, several in a row, and the take is what it would have been', async () => {
  const asks = [
    { due: 120, lastS: 2 },
    { due: 121, lastS: 1 },
    { due: 200, lastS: 60 },
  ];
  const { take, clips } = await takeWithClips(
    bench,
    { recipe: { rate: { num: 30, den: 1 } }, encode: { keyDistanceFrames: 30, bFrames: 2 }, order: { dueFrames: 240 } },
    {},
    asks,
  );
  expect(take.result.end).toBe('length');
  expect(take.log.filter((line) => !line.startsWith('Encoder'))).toEqual([]);
  clips.forEach((clip, i) => expectPartOf(take, clip, asks[i]?.lastS ?? 0));
});

it('holds without filing anything, no longer than asked, and is cut short where memory ends', async () => {
  const recorder = bench.recorder();
  const order = bench.orderOf({
    recipe: { rate: { num: 30, den: 1 } },
    encode: { keyDistanceFrames: 30 },
    order: {
      clock: 'real',
      dueFrames: 900,
      openEnd: true,
      unfiled: true,
      hindsight: holding(bench, { lengthS: 20, limitBytes: 1e6 }),
    },
  });
  const target = reserveFile(join(bench.folder, 'only.mkv'));
  const most = { heldS: 0, bytes: 0 };
  const kept = await new Promise((resolve, reject) => {
    let asked = false;
    recorder.onEvent((event) => {
      if (event.type === 'refused') reject(new Error(event.text));
      if (event.type === 'kept') resolve(event.kept);
      if (event.type !== 'live' || !event.live.held) return;
      most.heldS = Math.max(most.heldS, event.live.held.heldS);
      most.bytes = Math.max(most.bytes, event.live.held.bytes);
      if (event.live.due < 330 || asked) return;
      asked = true;
      recorder.keep({ id: 'a', lastS: 20, ...target });
    });
    recorder.roll(order);
  });
  expect(kept).toMatchObject({ ok: true });
  // A group of pictures may pass the limit before the oldest goes.
  expect(most.bytes).toBeLessThan(1.6e6);
  expect(most.heldS).toBeLessThan(11);
  expect(statSync(order.filePath).size).toBe(0);
  expect(probePictures(target.path)[0]?.key).toBe(true);
  const closed = new Promise((resolve) =>
    recorder.onEvent((event) => void (event.type === 'closed' && resolve(event.closing))),
  );
  recorder.stop();
  expect(await closed).toMatchObject({ end: 'stopped', closedWell: true });
}, 60_000);

it('answers in words where there is nothing to keep', async () => {
  const { clips } = await takeWithClips(
    bench,
    { recipe: { rate: { num: 30, den: 1 } }, order: { dueFrames: 60, hindsight: null } },
    {},
    [{ due: 20, lastS: 5 }],
  );
  expect(clips[0]?.kept).toMatchObject({ ok: false, why: 'Nothing is held of what rolls.' });
});
