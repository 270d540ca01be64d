import * as fc from 'fast-check';
import { causeCode, fateCode, type Cause, type Fate } from '@mellow/model';
import { ascending, createQuantileSketch, dueUs, percentileOfSorted } from '../units';
import {
  brokenIdentities,
  concatColumns,
  createLossCounter,
  createPyramid,
  createReconciler,
  isFiled,
  pyramidFromPieces,
  pyramidOf,
  reconcile,
  sliceColumns,
  toRows,
  type FilePicture,
  type LedgerColumns,
} from './index';
import { testLedger } from './testLedger.test-support';

const rate = { num: 60, den: 1 };
const rows = fc
  .array(
    fc.constantFrom<Fate | [Fate, Cause]>('new', 'new', 'new', ['repeat', 'slow'], ['encode-miss', 'queue-full']),
    { minLength: 1, maxLength: 400, size: 'max' },
  )
  .map((list) => ['new' as const, ...list]);

/** Pictures of a file in coding order, as B-frames put them. */
function codedPictures(columns: LedgerColumns, reorder: number): FilePicture[] {
  const filed = Array.from({ length: columns.length }, (_, n) => n).filter((n) => isFiled(columns, n));
  const pictures = filed.map((n) => ({ timeUs: dueUs(rate, n), bytes: 100 + n, key: n % 60 === 0 }));
  for (let i = 0; i + reorder < pictures.length; i += reorder + 1)
    pictures.splice(i, reorder + 1, pictures[i + reorder]!, ...pictures.slice(i, i + reorder));
  return pictures;
}

describe('closing a ledger while it is read', () => {
  it('comes to the same as closing it whole, in whatever pieces it comes', () => {
    fc.assert(
      fc.property(
        rows,
        fc.array(fc.integer({ min: 1, max: 90 }), { minLength: 1 }),
        fc.nat({ max: 3 }),
        fc.boolean(),
        (list, lengths, reorder, cut) => {
          const pictures = codedPictures(testLedger(rate, list), reorder).slice(
            0,
            cut ? Math.ceil(list.length / 2) : undefined,
          );
          const whole = reconcile(
            testLedger(rate, list),
            rate,
            {
              timeUs: pictures.map((p) => p.timeUs),
              bytes: pictures.map((p) => p.bytes),
              key: pictures.map((p) => p.key),
            },
            cut,
          );
          const live = testLedger(rate, list);
          const pieces: LedgerColumns[] = [];
          let at = 0;
          let turn = 0;
          const reconciler = createReconciler({
            rate,
            interrupted: cut,
            nextRows() {
              if (at >= live.length) return null;
              const end = at + lengths[turn++ % lengths.length]!;
              const piece = sliceColumns(live, at, end);
              at = end;
              return piece;
            },
            onRow: () => {},
            onPiece: (piece) => void pieces.push(piece),
            onOddity: (sentence) => {
              throw new Error(sentence);
            },
          });
          pictures.forEach(reconciler.picture);
          const end = reconciler.end();
          expect(toRows(concatColumns(pieces), 0)).toEqual(toRows(whole.columns, 0));
          expect([end.tailFrames, end.fileOffsetUs, end.rows]).toEqual([
            whole.tailFrames,
            whole.fileOffsetUs,
            whole.columns.length,
          ]);
          if (!cut)
            expect(
              brokenIdentities(whole.columns, {
                filePictures: whole.filePictures,
                presented: null,
                passedOver: null,
                notReached: null,
              }),
            ).toEqual([]);
        },
      ),
    );
  });

  it('says when two pictures have one due, or a picture has no row', () => {
    const said: string[] = [];
    const queue = [testLedger(rate, ['new', 'new'])];
    const reconciler = createReconciler({
      rate,
      interrupted: false,
      nextRows: () => queue.shift() ?? null,
      onRow: () => {},
      onPiece: () => {},
      onOddity: (sentence) => void said.push(sentence),
    });
    for (const timeUs of [0, 16_667, 16_900, 50_000]) reconciler.picture({ timeUs, bytes: 1, key: false });
    reconciler.end();
    expect(said.join()).toMatch(/same due, 1.*due 3, the ledger ends before/);
  });
});

describe('figures of a stream', () => {
  it('percentiles are exact for short takes and within 0.3 % for long ones', () => {
    const value = (i: number): number => 0.5 + ((i * 7919) % 100_003) / 1000;
    for (const count of [1000, 200_000]) {
      const sketch = createQuantileSketch();
      const values = Array.from({ length: count }, (_, i) => value(i));
      values.forEach(sketch.add);
      for (const p of [0.01, 0.5, 0.99]) {
        const exact = percentileOfSorted(ascending(values), p);
        expect(Math.abs(sketch.percentile(p) / exact - 1)).toBeLessThan(count > 65_536 ? 0.003 : 1e-12);
      }
      expect(sketch.mean()).toBeCloseTo(values.reduce((sum, v) => sum + v, 0) / count, 6);
    }
  });

  it('the stored timeline keeps every count and every maximum, however often it was joined', () => {
    const builder = createPyramid();
    const piece = testLedger(
      rate,
      Array.from({ length: 1000 }, (_, n) => (n % 7 ? 'new' : (['encode-miss', 'queue-full'] as [Fate, Cause]))),
    );
    const pieces = 2200;
    for (let i = 0; i < pieces; i++) for (let row = 0; row < piece.length; row++) builder.row(piece, row);
    const stored = builder.end();
    expect(stored.columns.bytes.length).toBeLessThanOrEqual(16_384);
    const coarse = pyramidFromPieces(stored, rate, 0, stored.rows, 200)!;
    const sum = (values: readonly number[]) => values.reduce((total, v) => total + v, 0);
    expect(sum(coarse.encodeMisses)).toBe(143 * pieces);
    expect(coarse.meanMs.length).toBeLessThanOrEqual(200);
    expect(pyramidFromPieces(stored, rate, 0, 5000, 1200)).toBeNull();
    const short = createPyramid();
    for (let row = 0; row < piece.length; row++) short.row(piece, row);
    const fine = pyramidOf(piece, rate, 0, piece.length, 5);
    const joined = pyramidFromPieces(short.end(), rate, 0, piece.length, 5)!;
    expect(Math.max(...joined.maxMs.map((v) => v ?? 0))).toBeCloseTo(Math.max(...fine.maxMs.map((v) => v ?? 0)), 9);
  });

  it('losses are counted in full and listed to a bound, the first of each cause always', () => {
    const counter = createLossCounter(3);
    const columns = testLedger(
      rate,
      Array.from({ length: 100 }, (_, n) => (n % 2 ? 'new' : (['encode-miss', 'queue-full'] as [Fate, Cause]))),
    );
    columns.fate[98] = fateCode('write-miss');
    columns.cause[98] = causeCode('drive-slow');
    for (let row = 0; row < 100; row++) counter.row(columns, row, row);
    const { total, runs } = counter.end();
    expect(total).toBe(50);
    expect(runs.map((run) => run.cause)).toEqual(['queue-full', 'queue-full', 'queue-full', 'drive-slow']);
  });
});
