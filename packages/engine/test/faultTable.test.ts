import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ledgerNames, reserveFile, rollToEnd } from '@mellow/engine';
import type { ScriptEvent, TakeOrder } from '@mellow/model';
import { openTakeBench, readBackOf, type TakeBench, type TakeChange } from './support/drivenTake';
import { holding, keepAt } from './support/keptClip';
import { standInCamera } from './support/standInCamera';
import { probePictures } from './support/probe';

/**
 * The fault table of docs/recorder-states.md: each thread throws once in its middle, and what becomes of the take is what the
 * table says. Threads that hang are in the matrix.
 */
let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const small: TakeChange = {
  game: { widthPx: 320, heightPx: 180, capFps: 60 },
  recipe: { rate: { num: 30, den: 1 } },
  size: { widthPx: 320, heightPx: 180 },
  encode: { keyDistanceFrames: 15 },
};
type Fault = Extract<ScriptEvent, { kind: 'thread-fails' }>;
const fails = (thread: string, change: Partial<Fault> = {}): ScriptEvent[] => [
  { kind: 'thread-fails', thread, at: 'frame', fromDue: 45, toDue: 1e6, hangS: null, ...change },
];
const orderOf = (change: Partial<TakeOrder>, more: TakeChange = {}): TakeOrder =>
  bench.orderOf({ ...small, ...more, order: { dueFrames: 90, ...change } });

async function roll(order: TakeOrder) {
  const log: string[] = [];
  const troubles = new Set<string>();
  const stop = bench.recorder().onEvent((event) => {
    if (event.type === 'log') log.push(event.text);
    if (event.type === 'live') for (const { who, text } of event.live.troubles) troubles.add(`${who}: ${text}`);
  });
  const closing = await rollToEnd(bench.recorder(), order).finally(stop);
  return { closing, log, troubles: [...troubles] };
}

describe('a thread that the take is made by', () => {
  const makers: [string, Partial<TakeOrder>, boolean, number][] = [
    // Clock, whether the container is closed, and pictures that are whole at least.
    ['game', { clock: 'real', script: fails('game', { fromDue: 200 }) }, true, 5],
    ['picker', { script: fails('picker', { at: 'end' }) }, true, 80],
    ['encode', { script: fails('encode') }, true, 30],
    ['encode as it begins', { script: fails('encode', { at: 'begin' }) }, false, 0],
    ['encode at its end', { script: fails('encode', { at: 'end' }) }, true, 80],
    ['pack', { script: fails('pack') }, true, 30],
    ['pack as the container begins', { script: fails('pack', { at: 'begin' }) }, true, 0],
    ['pack at its end', { script: fails('pack', { at: 'end' }) }, true, 80],
    ['drive', { script: fails('drive', { fromDue: 50_000 }) }, false, 5],
    ['drive at its end', { script: fails('drive', { at: 'end' }) }, false, 30],
  ];
  it.each(makers)('%s: the take ends, is told, and what was recorded can be played', async (_, change, well, least) => {
    const order = orderOf(change);
    const refused: string[] = [];
    const { closing } = await roll(order).catch((error: Error) => {
      refused.push(error.message);
      return { closing: null };
    });
    if (least === 0) {
      expect(closing === null ? refused.join() : (closing.endText ?? '')).toContain('scripted failure');
      return;
    }
    expect(closing).toMatchObject({ end: 'error', closedWell: well });
    expect(closing?.endText).toContain('scripted failure');
    expect(existsSync(join(order.ledgerFolder, ledgerNames.closing))).toBe(true);
    if (well) expect(probePictures(order.filePath).length).toBeGreaterThanOrEqual(least);
  });

  it('size: each picture that it cannot scale is a loss of its own, and the take goes on', async () => {
    const order = orderOf({ script: fails('size') }, { size: { widthPx: 240, heightPx: 136 } });
    const { closing, log } = await roll(order);
    expect(closing).toMatchObject({ end: 'length', closedWell: true });
    const { summary } = await readBackOf(order, closing, log);
    expect(summary.causes['size-error']).toBe(1);
    expect(summary.filed).toBe(89);
  });

  it('size that fails for good loses its pictures and nothing more', async () => {
    const order = orderOf(
      { dueFrames: 200, script: [{ kind: 'size-fails', fromDue: 20, toDue: 1e6 }] },
      { size: { widthPx: 240, heightPx: 136 } },
    );
    const { closing, log } = await roll(order);
    expect(closing).toMatchObject({ end: 'length', closedWell: true });
    const { summary } = await readBackOf(order, closing, log);
    expect(summary.causes['size-error']).toBe(180);
    expect(summary.filed).toBe(20);
  });

  it('and the recorder is there for the next take', async () => {
    const { closing } = await roll(orderOf({}));
    expect(closing).toMatchObject({ end: 'length', closedWell: true });
  });
});

describe('a guest of the take', () => {
  it.each<[string, string, Partial<TakeOrder>, string]>([
    ['what holds the last minutes', 'keep', {}, 'hindsight'],
    ['the practice game’s sound', 'sound', {}, 'sound'],
    ['the encoder of a lane', 'lane', {}, 'sound'],
  ])('%s: it is told and tried again, and the take is whole', async (_, thread, change, who) => {
    const order = orderOf({
      clock: 'real',
      dueFrames: 180,
      hindsight: thread === 'keep' ? holding(bench) : null,
      script: fails(thread, { toDue: 46 }),
      ...change,
    });
    const { closing, log, troubles } = await roll(order);
    expect(closing).toMatchObject({ end: 'length', endText: null, closedWell: true });
    const { summary, disagreements } = await readBackOf(order, closing, log);
    expect(disagreements).toEqual([]);
    expect(summary.filed).toBe(probePictures(order.filePath).length);
    expect(summary.causes['pack-late']).toBe(0);
    expect(troubles.filter((one) => one.startsWith(who))).toHaveLength(1);
    expect(log.filter((line) => line.includes('scripted failure')).length).toBeGreaterThan(0);
    expect(log.some((line) => /there again|encoded again/.test(line))).toBe(true);
    if (thread !== 'keep') {
      // Silent for as long as it took to begin anew, and no longer.
      const silenceS = (closing.silenceSamples[0] ?? 0) / 48_000;
      expect(silenceS).toBeGreaterThan(0.01);
      expect(silenceS).toBeLessThan(4.5);
    }
  });

  it('a camera that fails goes on without its file', async () => {
    const cameraFile = reserveFile(join(bench.folder, 'camera.mkv'));
    const order = orderOf(
      { clock: 'real', dueFrames: 150, cameraFile, script: fails('camera', { fromDue: 10, toDue: 11 }) },
      { recipe: { ...small.recipe, camera: standInCamera } },
    );
    const { closing, troubles } = await roll(order);
    expect(closing).toMatchObject({ end: 'length', endText: null, closedWell: true });
    expect(troubles.some((one) => one.startsWith('camera'))).toBe(true);
    expect(probePictures(cameraFile.path).length).toBeGreaterThan(5);
  });

  it('a clip whose name another file has by now is refused, and what is held is still there', async () => {
    const { clips, stop } = keepAt(bench, 'mkv', [
      { due: 60, lastS: 1 },
      { due: 100, lastS: 1 },
    ]);
    const order = orderOf({ clock: 'real', dueFrames: 150, hindsight: holding(bench) });
    const first = join(bench.folder, 'clip-0.mkv');
    rmSync(first);
    writeFileSync(join(bench.folder, 'held-inode'), '');
    writeFileSync(first, 'somebody else’s');
    const { closing } = await roll(order).finally(stop);
    const [refused, kept] = await clips;
    expect(closing).toMatchObject({ end: 'length', closedWell: true });
    expect(refused?.kept).toMatchObject({ ok: false, why: expect.stringContaining('Another file lies at') });
    expect(kept?.kept).toMatchObject({ ok: true });
  });

  it('a folder for what is held that cannot be made is told, and the take goes on', async () => {
    const blocked = join(bench.folder, 'blocked');
    writeFileSync(blocked, '');
    const order = orderOf({
      clock: 'real',
      dueFrames: 90,
      hindsight: holding(bench, { where: 'drive', folder: join(blocked, 'held') }),
    });
    const { closing, troubles } = await roll(order);
    expect(closing).toMatchObject({ end: 'length', endText: null, closedWell: true });
    expect(troubles.join()).toContain('The last minutes cannot be held');
  });

  it('a folder for what is held that vanishes is told, and the take goes on', async () => {
    const held = holding(bench, { where: 'drive', folder: join(bench.folder, 'vanishing') });
    let gone = false;
    const stop = bench.recorder().onEvent((event) => {
      if (event.type !== 'live' || event.live.due < 40 || gone) return;
      gone = true;
      rmSync(held.folder, { recursive: true });
    });
    const order = orderOf({ clock: 'real', dueFrames: 500, hindsight: held });
    const { closing, troubles } = await roll(order).finally(stop);
    expect(closing).toMatchObject({ end: 'length', endText: null, closedWell: true });
    expect(troubles.join()).toContain('The last minutes cannot be held');
  }, 60_000);
});
