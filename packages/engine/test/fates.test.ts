import { rmSync } from 'node:fs';
import { isFiled, lossRuns } from '@mellow/core';
import { causes, fates, type Cause, type ScriptEvent } from '@mellow/model';
import { rollToEnd } from '@mellow/engine';
import { openTakeBench, type MadeTake, type TakeBench, type TakeChange } from './support/drivenTake';
import { readStripsOf } from './support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const fateAt = ({ columns }: MadeTake, n: number) => [fates[columns.fate[n] ?? 0], causes[columns.cause[n] ?? 0]];
const span = (fromDue: number, toDue: number) => ({ fromDue, toDue });

/** Whatever was lost: the identities hold, and the file's strips are exactly the filed rows' source frames. */
async function expectConsistent(change: TakeChange): Promise<MadeTake> {
  const take = await bench.make(change);
  expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
  const filed = Array.from({ length: take.columns.length }, (_, n) => n).filter((n) => isFiled(take.columns, n));
  const strips = readStripsOf(take.result.filePath, take.order.recipe.size, take.order.game);
  expect(strips.map((s) => s.strip?.number ?? null)).toEqual(filed.map((n) => take.columns.sourceFrame[n]));
  return take;
}

const script = (...events: ScriptEvent[]): TakeChange => ({ order: { script: events } });

describe('one scripted case for each fate and cause', () => {
  it.each<[string, TakeChange, number, string, string]>([
    [
      'the picker wakes after the next due',
      script({ kind: 'picker-wakes-late', ...span(30, 33), delayUs: 17_000 }),
      31,
      'capture-miss',
      'picker-late',
    ],
    [
      'too much waits for a slow drive',
      script({ kind: 'drive-waits', ...span(40, 45), bytesWaiting: 70e6, lastWriteAgoUs: 20_000 }),
      42,
      'write-miss',
      'drive-slow',
    ],
    [
      'the drive stands still',
      script({ kind: 'drive-waits', ...span(40, 45), bytesWaiting: 70e6, lastWriteAgoUs: 600_000 }),
      42,
      'write-miss',
      'drive-stalled',
    ],
    ['the pool is empty', script({ kind: 'pool-is-empty', ...span(10, 12) }), 11, 'capture-miss', 'pool-empty'],
    ['the grab fails', script({ kind: 'grab-fails', ...span(10, 12) }), 11, 'capture-miss', 'no-source'],
    [
      'the grab takes longer than a frame',
      script({ kind: 'grab-takes', ...span(10, 12), serviceUs: 20_000 }),
      11,
      'capture-miss',
      'grab-late',
    ],
    ['the game has not begun', script({ kind: 'game-starts-at', ...span(8, 9) }), 3, 'capture-miss', 'no-source'],
    ['encoding fails', script({ kind: 'encode-fails', ...span(20, 22) }), 21, 'encode-miss', 'encode-error'],
  ])('%s', async (_, change, n, fate, cause) => {
    const take = await expectConsistent(change);
    expect(fateAt(take, n)).toEqual([fate, cause]);
    expect(fateAt(take, 60)[0]).toBe('new');
    expect(take.result.summary.causes[cause as Cause]).toBeGreaterThan(0);
  });

  it('an encoder that takes longer than a frame: its queue fills, then frames are refused one by one', async () => {
    const take = await expectConsistent({
      order: { dueFrames: 200, script: [{ kind: 'encode-takes', ...span(20, 200), serviceUs: 40_000 }] },
    });
    // D/D/1/K in overload loses 1 - 1/rho once its K places are full (Kleinrock, Queueing Systems I, from memory).
    const rho = 40_000 / (1e6 / 60);
    const steady = lossRuns(take.columns)
      .filter((run) => run.due >= 60)
      .reduce((sum, run) => sum + run.frames, 0);
    expect(Math.abs(steady / 140 - (1 - 1 / rho))).toBeLessThan(0.02);
    expect(Math.max(...lossRuns(take.columns).map((run) => run.frames))).toBeLessThanOrEqual(3);
  });

  it('a scaler that takes longer than a frame', async () => {
    const take = await expectConsistent({
      size: { widthPx: 320, heightPx: 180 },
      order: { script: [{ kind: 'size-takes', ...span(20, 50), serviceUs: 30_000 }] },
    });
    expect(take.result.summary.causes['size-late']).toBeGreaterThan(5);
  });

  it('scaling fails', async () => {
    const take = await expectConsistent({
      size: { widthPx: 320, heightPx: 180 },
      order: { script: [{ kind: 'size-fails', ...span(20, 22) }] },
    });
    expect(fateAt(take, 20)).toEqual(['capture-miss', 'size-error']);
  });

  it('a packet that never reaches the file is found missing when it is read back', async () => {
    // Every other picture is a B-frame that nothing refers to, so leaving one out harms no other.
    const take = await bench.make({
      encode: { bFrames: 1 },
      order: { script: [{ kind: 'pack-omits', ...span(41, 42) }] },
    });
    expect(fateAt(take, 41)).toEqual(['write-miss', 'not-found']);
    expect(take.result.summary.filed).toBe(89);
    expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
  });

  it('repeats: a game at half the file’s rate is slow, one in step beats, a stall is a stall', async () => {
    const slow = await expectConsistent({ game: { capFps: 30 } });
    expect(slow.result.summary).toMatchObject({ fates: { new: 45, repeat: 45 } });
    expect(slow.result.summary.causes['slow']).toBe(45);
    const stalled = await expectConsistent(script({ kind: 'game-presents-nothing', ...span(20, 50) }));
    expect(fateAt(stalled, 30)).toEqual(['repeat', 'stalled']);
    expect(stalled.result.summary.causes['stalled']).toBeGreaterThanOrEqual(28);
    const beating = await expectConsistent({ game: { capFps: 59 }, order: { dueFrames: 180 } });
    expect(beating.result.summary.causes['phase']).toBeGreaterThan(0);
    expect(beating.result.summary.causes['slow'] ?? 0).toBe(0);
  });

  it('with a cap at twice the file’s rate no frame is repeated', async () => {
    const take = await expectConsistent({ game: { capFps: 120 } });
    expect(take.result.summary.fates['repeat']).toBe(0);
  });

  it('everything at once still adds up', async () => {
    const take = await expectConsistent({
      game: { capFps: 50 },
      size: { widthPx: 480, heightPx: 270 },
      order: {
        dueFrames: 200,
        script: [
          { kind: 'encode-takes', ...span(10, 70), serviceUs: 30_000 },
          { kind: 'size-takes', ...span(80, 110), serviceUs: 25_000 },
          { kind: 'picker-wakes-late', ...span(120, 125), delayUs: 20_000 },
          { kind: 'drive-waits', ...span(130, 135), bytesWaiting: 65e6, lastWriteAgoUs: 0 },
          { kind: 'encode-fails', ...span(140, 141) },
          { kind: 'game-presents-nothing', ...span(150, 180) },
        ],
      },
    });
    const { summary } = take.result;
    expect(fates.reduce((sum, fate) => sum + (summary.fates[fate] ?? 0), 0)).toBe(200);
    expect(summary.filed + lossRuns(take.columns).reduce((sum, run) => sum + run.frames, 0)).toBe(200);
  });
});

describe('the real clock', () => {
  it('may lose what it must: every identity holds, times rise along the path', async () => {
    const take = await bench.make({
      order: { clock: 'real', dueFrames: 120, baselineS: 0.5 },
      size: { widthPx: 320, heightPx: 180 },
    });
    expect(take.result.end).toBe('length');
    expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
    expect(take.columns.length).toBe(120);
    const filed = Array.from({ length: 120 }, (_, n) => n).filter((n) => isFiled(take.columns, n));
    const strips = readStripsOf(take.result.filePath, take.order.recipe.size, take.order.game);
    expect(strips.map((s) => s.strip?.number ?? null)).toEqual(filed.map((n) => take.columns.sourceFrame[n]));
    expect(take.result.baseline?.frames).toBeGreaterThan(0);
    expect(take.result.recorded?.frames).toBeGreaterThan(0);
  });

  it('stops early when told, and closes the file well', async () => {
    const order = bench.orderOf({ order: { clock: 'real', dueFrames: 6000 } });
    const recorder = bench.recorder();
    let due = 0;
    const unlisten = recorder.onEvent((event) => {
      if (event.type !== 'live' || event.live.takeId !== order.takeId) return;
      due = event.live.due;
      if (due > 30) recorder.stop();
    });
    const closing = await rollToEnd(recorder, order);
    unlisten();
    expect([closing.end, closing.closedWell]).toEqual(['stopped', true]);
    expect(due).toBeGreaterThan(30);
    expect(due).toBeLessThan(6000);
  });

  it('closes the take well when the drive’s room comes down to the reserve', async () => {
    const take = await bench.make({
      encode: { rateControl: 'constant-bitrate', bitrateKbps: 2500 },
      order: { clock: 'real', dueFrames: 6000, quotaBytes: 3_000_000, reserveBytes: 2_200_000 },
    });
    expect(take.result).toMatchObject({ end: 'drive-full', closedWell: true, tailFrames: 0 });
    expect(take.result.facts?.durationUs).toBeGreaterThan(0);
    expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
  });

  it('closes the take well before a file comes to the most that its file system keeps', async () => {
    const take = await bench.make({
      encode: { rateControl: 'constant-bitrate', bitrateKbps: 2500 },
      order: { clock: 'real', dueFrames: 6000, largestFileBytes: 48e6 + 600_000 },
    });
    expect(take.result).toMatchObject({ end: 'file-limit', closedWell: true, tailFrames: 0 });
    expect(take.result.endText).toContain('file system');
    expect(take.result.facts?.bytes).toBeGreaterThan(500_000);
    expect(take.result.facts?.bytes).toBeLessThan(48e6 + 600_000);
  });

  it('ends and says so when its drive thread fails in the middle', async () => {
    const order = bench.orderOf({ order: { clock: 'real', dueFrames: 6000 } });
    const recorder = bench.recorder();
    let harmed = false;
    const unlisten = recorder.onEvent((event) => {
      if (event.type !== 'live' || event.live.takeId !== order.takeId || event.live.due <= 40 || harmed) return;
      harmed = true;
      // The folder goes, and with the ledger's folder the place where the bytes would be kept.
      rmSync(order.filePath);
      rmSync(order.ledgerFolder, { recursive: true });
    });
    const how = await rollToEnd(recorder, order).then(
      (closing) => closing.endText ?? closing.end,
      (error: Error) => error.message,
    );
    unlisten();
    expect(how).toMatch(/ENOENT/);
  });
});
