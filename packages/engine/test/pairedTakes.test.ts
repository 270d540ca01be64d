import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { isFiled } from '@mellow/core';
import { discardPair, reserveFile, rollToEnd } from '@mellow/engine';
import type { EngineEvent } from '@mellow/model';
import { openTakeBench, type TakeBench } from './support/drivenTake';
import { readStripsOf } from './support/probe';

let bench: TakeBench;
beforeAll(async () => {
  bench = await openTakeBench();
});
afterAll(() => bench.close());

/** Files of the drive's folder that are no folders of ledgers. */
const filesIn = (folder: string): string[] => readdirSync(folder).filter((name) => /\.(mkv|mp4)$/.test(name));
const small = { size: { widthPx: 320, heightPx: 180 } };

describe('a take whose play cost is measured in turns', () => {
  it('plays the game alone and recorded in turns, keeps the last, and leaves nothing of the others', async () => {
    const before = filesIn(bench.folder);
    const states: string[] = [];
    const stop = bench.recorder().onEvent((event: EngineEvent) => {
      if (event.type === 'live') states.push(event.live.state);
    });
    const order = { clock: 'real', dueFrames: 90, baselineS: 0.5, pairs: 2 } as const;
    const take = await bench.make({ ...small, order }).finally(stop);
    expect([take.result.end, take.result.pairs]).toEqual(['length', 2]);
    // Two pieces of half a second each; the last frame of a piece may reach over its end.
    for (const run of [take.result.baseline, take.result.recorded]) {
      expect(run?.seconds).toBeGreaterThan(0.8);
      expect(run?.seconds).toBeLessThan(1.3);
    }
    expect(take.columns.length).toBe(90);
    const filed = Array.from({ length: 90 }, (_, n) => n).filter((n) => isFiled(take.columns, n));
    const strips = readStripsOf(take.result.filePath, take.order.recipe.size, take.order.game);
    expect(strips.map((s) => s.strip?.number ?? null)).toEqual(filed.map((n) => take.columns.sourceFrame[n]));
    expect(filesIn(bench.folder).filter((name) => !before.includes(name))).toEqual([`${take.order.takeId}.mkv`]);
    expect(existsSync(join(take.order.ledgerFolder, 'pair'))).toBe(false);
    // What rolls before the take itself is the game's own measuring to who looks on.
    expect(states.indexOf('rolling')).toBeGreaterThan(states.lastIndexOf('baseline'));
  });

  it('ends at once when it is stopped in a turn that is not kept', async () => {
    const order = bench.orderOf({ ...small, order: { clock: 'real', dueFrames: 6000, baselineS: 5, pairs: 3 } });
    const recorder = bench.recorder();
    const unlisten = recorder.onEvent((event) => {
      if (event.type === 'live' && event.live.state === 'baseline') recorder.stop();
    });
    const closing = await rollToEnd(recorder, order).finally(unlisten);
    expect(closing.end).toBe('stopped');
    expect(existsSync(join(order.ledgerFolder, 'pair'))).toBe(false);
    expect(filesIn(bench.folder).filter((name) => name.includes('.part-'))).toEqual([]);
  });

  it('with helpers: a frame waits for all of them, and their work is the game’s', async () => {
    const order = { clock: 'real', dueFrames: 60, baselineS: 0 } as const;
    const game = { capFps: 60, extraLoadUs: 0, passages: [{ kind: 'calm' as const, seconds: 60 }] };
    const plain = await bench.make({ ...small, game, order });
    const helped = await bench.make({ ...small, game: { ...game, helpers: 2, helperLoadUs: 40_000 }, order });
    const share = (take: typeof plain): number => take.result.summary.processor?.gameShare ?? NaN;
    // Two helpers that work nearly all the time; less where a busy machine keeps them from it.
    expect(share(helped)).toBeGreaterThan(share(plain) + 0.05);
    // However fast or slow the machine: no frame is over before its helpers are.
    expect(helped.result.summary.loads.game?.usualMs).toBeGreaterThanOrEqual(40);
    expect(helped.result.end).toBe('length');
  });
});

describe('what a recorder that died in such a turn has left', () => {
  const leave = (name: string): { ledgerFolder: string; path: string } => {
    const ledgerFolder = join(bench.folder, `${name}.ledger`);
    mkdirSync(join(ledgerFolder, 'pair'), { recursive: true });
    const reserved = reserveFile(join(bench.folder, `${name}.part-1-1.mkv`));
    writeFileSync(join(ledgerFolder, 'pair', 'pair-file.json'), JSON.stringify(reserved));
    return { ledgerFolder, path: reserved.path };
  };
  it('is removed with its file', () => {
    const { ledgerFolder, path } = leave('dead');
    discardPair(ledgerFolder);
    expect([existsSync(path), existsSync(join(ledgerFolder, 'pair'))]).toEqual([false, false]);
  });
  it('leaves a person’s file that has the name by now', () => {
    const { ledgerFolder, path } = leave('other');
    discardPair(ledgerFolder);
    writeFileSync(path, 'mine');
    mkdirSync(join(ledgerFolder, 'pair'), { recursive: true });
    const gone = { path, identity: { device: '1', inode: '2', bornNs: '3' } };
    writeFileSync(join(ledgerFolder, 'pair', 'pair-file.json'), JSON.stringify(gone));
    discardPair(ledgerFolder);
    expect(existsSync(path)).toBe(true);
  });
  it.each([
    ['no such folder', null],
    ['an empty note', ''],
    ['a note that is no JSON', '{'],
    ['a note of something else', '{"path":3}'],
  ])('is nothing with %s', (name, content) => {
    const ledgerFolder = join(bench.folder, `broken-${name.replaceAll(' ', '-')}`);
    if (content !== null) {
      mkdirSync(join(ledgerFolder, 'pair'), { recursive: true });
      writeFileSync(join(ledgerFolder, 'pair', 'pair-file.json'), content);
    }
    expect(() => discardPair(ledgerFolder)).not.toThrow();
    expect(existsSync(join(ledgerFolder, 'pair'))).toBe(false);
  });
});
