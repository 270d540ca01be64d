import { periodUs } from '@mellow/core';
import { slotTimeUs, soundRateHz } from '@mellow/practice';
import { rollToEnd, readLedgerColumns } from '@mellow/engine';
import type { TakeClosing, TakeOrder } from '@mellow/model';
import { openTakeBench, readBackOf, type MadeTake, type TakeBench, type TakeChange } from './support/drivenTake';
import { decodeSound, probePictures } from './support/probe';
import { flashTimes } from './support/soundTiming';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

/** Rolls, pauses when so many frames were due, and goes on after a while. */
async function pausedTake(change: TakeChange, pauses: readonly { due: number; forS: number }[]): Promise<MadeTake> {
  const order: TakeOrder = bench.orderOf({ ...change, order: { clock: 'real', ...change.order } });
  const recorder = bench.recorder();
  const log: string[] = [];
  let at = 0;
  let asked = false;
  const stop = recorder.onEvent((event) => {
    if (event.type === 'log') log.push(event.text);
    if (event.type !== 'live' || event.live.state !== 'rolling') return;
    const next = pauses[at];
    if (!next) return;
    if (!asked && event.live.due >= next.due) {
      asked = true;
      recorder.pause(true);
    } else if (asked && (event.live.pausedS ?? 0) >= next.forS) {
      at++;
      asked = false;
      recorder.pause(false);
    }
  });
  const closing: TakeClosing = await rollToEnd(recorder, order).finally(stop);
  const result = { ...closing, ...(await readBackOf(order, closing, log)) };
  return { order, result, columns: readLedgerColumns(order.ledgerFolder), log };
}

/** Where clicks begin, in microseconds: rises that nothing else in the practice game's sound has. */
function clickTimes(path: string): number[] {
  const samples = decodeSound(path, 0);
  const found: number[] = [];
  for (let i = 1; i < samples.length; i++)
    if (Math.abs((samples[i] ?? 0) - (samples[i - 1] ?? 0)) > 0.15 && i - (found.at(-1) ?? -1e9) > soundRateHz / 5)
      found.push(i);
  return found.map((i) => (i / soundRateHz) * 1e6);
}

it.each([
  ['matroska', 'flac', { num: 30, den: 1 }, 2],
  ['fragmented-mp4', 'aac', { num: 24000, den: 1001 }, 0],
] as const)(
  'a pause leaves nothing in the %s, and sound and picture stay in step within a frame, with %s at %j',
  async (container, codec, rate, bFrames) => {
    const fps = rate.num / rate.den;
    const dueFrames = Math.round(fps * 6);
    const take = await pausedTake(
      {
        game: { widthPx: 320, heightPx: 180 },
        size: { widthPx: 320, heightPx: 180 },
        recipe: { container, rate, lanes: [{ name: 'Game', sources: ['game'], codec, bitrateKbps: 256 }] },
        encode: { bFrames },
        order: { dueFrames },
      },
      [
        { due: Math.round(fps * 1.4), forS: 1.3 },
        { due: Math.round(fps * 3.6), forS: 0.4 },
      ],
    );
    expect(take.result).toMatchObject({ end: 'length', closedWell: true, disagreements: [] });
    const { cuts } = take.result;
    expect(cuts).toHaveLength(2);
    for (const { leftOutUs, atUs } of cuts) {
      // Whole frames are left out, and cuts lie where a frame begins.
      for (const us of [leftOutUs, atUs])
        expect(Math.abs(us / periodUs(rate) - Math.round(us / periodUs(rate)))).toBeLessThan(0.001);
    }
    expect(cuts[0]?.leftOutUs).toBeGreaterThan(1.2e6);
    expect(take.columns.fate).toHaveLength(dueFrames);
    // The file's time goes on evenly: no picture stands for the length of a pause.
    const times = probePictures(take.result.filePath).map(({ timeUs }) => timeUs);
    const gaps = times.slice(1).map((us, i) => us - (times[i] ?? us));
    expect(Math.max(...gaps)).toBeLessThan(0.3e6);
    expect(Math.abs((take.result.facts?.picture.endUs ?? 0) - dueFrames * periodUs(rate))).toBeLessThan(0.5e6);
    // Flash and click come together in the game at each of its whole seconds, wherever the cuts lie. The ledger says which frame of
    // the game the first picture of a flash is, so how long after that it was drawn: what a busy PC missed before it counts for nothing.
    const clicks = clickTimes(take.result.filePath).filter((us) => us > 100_000);
    const later = flashTimes(take).flatMap((timeUs) => {
      const frame = take.columns.sourceFrame[Math.round(timeUs / periodUs(rate))] ?? -1;
      expect(frame).toBeGreaterThanOrEqual(0);
      const flashUs = timeUs - (slotTimeUs(take.order.game, frame) % 1e6);
      const click = clicks.find((us) => Math.abs(us - flashUs) < 300_000);
      return click === undefined ? [] : [flashUs - click];
    });
    expect(later.length).toBeGreaterThanOrEqual(4);
    // A picture is seen at the first due after it, so it may be later by a frame and never earlier.
    for (const us of later) {
      expect(us).toBeGreaterThanOrEqual(-10_000);
      expect(us).toBeLessThan(1.6 * periodUs(rate));
    }
    expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
  },
  60_000,
);

// At 60 fps two of three dues lie within a block of sound.
it.each([60, 70, 80, 90])(
  'a take that is stopped while paused ends where it was paused, after %d frames or some more',
  async (due) => {
    const order = bench.orderOf({
      game: { widthPx: 320, heightPx: 180 },
      size: { widthPx: 320, heightPx: 180 },
      order: { clock: 'real', dueFrames: 6000, openEnd: true },
    });
    const recorder = bench.recorder();
    let asked = false;
    const stop = recorder.onEvent((event) => {
      if (event.type !== 'live' || event.live.due < due) return;
      if (!asked) recorder.pause(true);
      asked = true;
      if ((event.live.pausedS ?? 0) > 0.5) recorder.stop();
    });
    const closing = await rollToEnd(recorder, order).finally(stop);
    expect(closing).toMatchObject({ end: 'stopped', closedWell: true, cuts: [] });
    const reading = await readBackOf(order, closing, []);
    expect(reading.disagreements).toEqual([]);
    expect(reading.summary.filed).toBeGreaterThanOrEqual(due - 5);
    expect(reading.summary.filed).toBeLessThan(due + 30);
  },
);
