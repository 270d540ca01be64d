import { join } from 'node:path';
import { reserveFile, rollToEnd } from '@mellow/engine';
import type { ScriptEvent, TakeOrder } from '@mellow/model';
import { openTakeBench, readBackOf, type TakeBench, type TakeChange } from '../test/support/drivenTake';
import { holding } from '../test/support/keptClip';
import { standInCamera } from '../test/support/standInCamera';

/** The column of hangs in the fault table of docs/recorder-states.md: ten seconds in the middle of a take. */
let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const small: TakeChange = {
  game: { widthPx: 320, heightPx: 180, capFps: 60 },
  recipe: { rate: { num: 30, den: 1 }, camera: standInCamera },
  size: { widthPx: 240, heightPx: 136 },
  encode: { keyDistanceFrames: 15 },
};
const hangs = (thread: string, fromDue: number): ScriptEvent[] => [
  { kind: 'thread-fails', thread, at: 'frame', fromDue, toDue: 1e6, hangS: 10 },
];

/** What is lost while it hangs, at most: ten seconds and what it needs to get on. */
it.each<[string, number, string | null]>([
  ['keep', 60, null],
  ['sound', 60, null],
  ['camera', 20, null],
  ['size', 60, 'size-late'],
  ['encode', 60, 'queue-full'],
  ['pack', 60, 'pack-late'],
  ['drive', 60_000, 'drive-stalled'],
])(
  '%s that hangs for ten seconds from %d on',
  async (thread, from, cause) => {
    const order: TakeOrder = bench.orderOf({
      ...small,
      order: {
        clock: 'real',
        dueFrames: 450,
        hindsight: holding(bench),
        cameraFile: reserveFile(join(bench.folder, `${thread}.mkv`)),
        script: hangs(thread, from),
      },
    });
    const log: string[] = [];
    const most = { behindUs: 0 };
    const stop = bench.recorder().onEvent((event) => {
      if (event.type === 'log') log.push(event.text);
      if (event.type !== 'live' || event.live.state !== 'rolling') return;
      most.behindUs = Math.max(most.behindUs, event.live.elapsedUs - event.live.writtenUs);
    });
    const closing = await rollToEnd(bench.recorder(), order).finally(stop);
    expect(closing).toMatchObject({ end: 'length', endText: null, closedWell: true });
    const { summary, disagreements } = await readBackOf(order, closing, log);
    expect(disagreements).toEqual([]);
    const { 'capture-miss': capture, 'encode-miss': encode, 'write-miss': write } = summary.fates;
    if (cause === null) {
      // A guest costs nothing: what is lost besides is what a busy PC loses. One that is waited for costs 300.
      expect(capture + encode + write).toBeLessThan(150);
      return;
    }
    expect(summary.causes[cause as keyof typeof summary.causes]).toBeGreaterThan(30);
    expect(capture + encode + write).toBeLessThan(360);
  },
  120_000,
);
