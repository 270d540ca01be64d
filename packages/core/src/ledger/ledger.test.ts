import * as fc from 'fast-check';
import { causeCode, fateCode, fates, type Cause, type Fate } from '@mellow/model';
import { dueUs } from '../units';
import {
  brokenIdentities,
  concatColumns,
  csvHeading,
  csvRows,
  gameRunOf,
  isFiled,
  longestHole,
  lossRuns,
  NEVER,
  playCostShare,
  pyramidOf,
  reconcile,
  sliceColumns,
  summarise,
  toRows,
  type FilePictures,
  type LedgerColumns,
} from './index';
import { testLedger } from './testLedger.test-support';

const rate = { num: 60, den: 1 };

function fileOf(columns: LedgerColumns, offsetUs = 0, round = 1000): FilePictures {
  const rows = Array.from({ length: columns.length }, (_, n) => n).filter((n) => isFiled(columns, n));
  return {
    timeUs: rows.map((n) => Math.round((dueUs(rate, n) + offsetUs) / round) * round),
    bytes: rows.map((n) => 2000 + n),
    key: rows.map((n) => n === rows[0]),
  };
}

const anyRows = fc
  .array(
    fc.constantFrom<Fate | [Fate, Cause]>(
      'new',
      'new',
      ['repeat', 'slow'],
      ['capture-miss', 'picker-late'],
      ['encode-miss', 'queue-full'],
      ['write-miss', 'drive-slow'],
    ),
    { minLength: 1, maxLength: 200, size: 'max' },
  )
  .map((rows) => ['new' as const, ...rows]);

describe('identities', () => {
  it('hold for any mix of fates once file and ledger are matched', () => {
    fc.assert(
      fc.property(anyRows, fc.constantFrom(0, 21_333, 6500), (rows, offset) => {
        const columns = testLedger(rate, rows);
        const news = rows.filter((r) => r === 'new').length;
        const matched = reconcile(columns, rate, fileOf(columns, offset), false);
        const summary = summarise(matched.columns, {
          rate,
          seconds: [],
          cores: 2,
          tailFrames: 0,
          presented: news + 7,
          passedOver: 5,
          notReached: 2,
        });
        expect(
          brokenIdentities(matched.columns, {
            filePictures: matched.filePictures,
            presented: news + 7,
            passedOver: 5,
            notReached: 2,
          }),
        ).toEqual([]);
        const total = fates.reduce((sum, fate) => sum + (summary.fates[fate] ?? 0), 0);
        expect(total).toBe(summary.due);
        expect(summary.filed).toBe((summary.fates['new'] ?? 0) + (summary.fates['repeat'] ?? 0));
        expect(lossRuns(matched.columns).reduce((sum, run) => sum + run.frames, 0)).toBe(summary.due - summary.filed);
      }),
    );
  });

  it('are broken, and say so, by a row that goes backwards, a picture too many or a time out of order', () => {
    const base = () => testLedger(rate, ['new', 'new', ['repeat', 'slow']]);
    const pictures = { filePictures: [0, 1, 2], presented: null, passedOver: null, notReached: null };
    expect(brokenIdentities(base(), pictures)).toEqual([]);
    const backwards = base();
    backwards.sourceFrame[1] = 1;
    expect(brokenIdentities(backwards, pictures).join()).toMatch(/does not rise/);
    expect(brokenIdentities(base(), { ...pictures, filePictures: [0, 1] }).join()).toMatch(/row 2 is filed/);
    const disordered = base();
    disordered.sized[1] = 150;
    expect(brokenIdentities(disordered, pictures).join()).toMatch(/"sized" comes before/);
    expect(brokenIdentities(base(), { ...pictures, presented: 9, passedOver: 1, notReached: 1 }).join()).toMatch(
      /presented 9 frames, 4/,
    );
    const pending = base();
    pending.fate[1] = fateCode('pending');
    expect(brokenIdentities(pending, pictures).join()).toMatch(/still pending/);
  });
});

describe('matching ledger and file', () => {
  it('charges an accepted frame that is absent from the file to Pack', () => {
    const columns = testLedger(rate, ['new', 'new', 'new', 'new']);
    const file = fileOf(columns);
    const matched = reconcile(
      columns,
      rate,
      {
        timeUs: file.timeUs.filter((_, i) => i !== 2),
        bytes: file.bytes.filter((_, i) => i !== 2),
        key: file.key.filter((_, i) => i !== 2),
      },
      false,
    );
    expect(matched.columns.fate[2]).toBe(fateCode('write-miss'));
    expect(matched.columns.cause[2]).toBe(causeCode('not-found'));
    expect(matched.columns.bytes[3]).toBe(2003);
    expect(matched.columns.key[0]).toBe(1);
  });
  it('cuts the rows after the last picture of an interrupted take and counts them', () => {
    const columns = testLedger(rate, ['new', 'new', 'new', ['capture-miss', 'picker-late'], 'new']);
    const file = fileOf(columns);
    const cut = { timeUs: file.timeUs.slice(0, 2), bytes: file.bytes.slice(0, 2), key: file.key.slice(0, 2) };
    const matched = reconcile(columns, rate, cut, true);
    expect(matched.columns.length).toBe(2);
    expect(matched.tailFrames).toBe(3);
  });
  it('gives pictures beyond a cut-off ledger rows of unknown cause, and slots between them are missing', () => {
    const columns = testLedger(rate, ['new', 'new', 'new', 'new', 'new', 'new']);
    const file = fileOf(columns);
    const without4 = {
      timeUs: file.timeUs.filter((_, i) => i !== 4),
      bytes: file.bytes.filter((_, i) => i !== 4),
      key: file.key.filter((_, i) => i !== 4),
    };
    const matched = reconcile(sliceColumns(columns, 0, 3), rate, without4, true);
    expect(matched.columns.length).toBe(6);
    expect([3, 4, 5].map((n) => fates[matched.columns.fate[n] ?? 0])).toEqual(['new', 'missing', 'new']);
    expect(
      brokenIdentities(matched.columns, {
        filePictures: matched.filePictures,
        presented: null,
        passedOver: null,
        notReached: null,
      }),
    ).toEqual([]);
  });
  it('finds what a codec’s priming added to every time stamp', () => {
    const columns = testLedger(rate, ['new', 'new']);
    expect(reconcile(columns, rate, fileOf(columns, 21_333), false).fileOffsetUs).toBeCloseTo(21_000, -3);
    expect(reconcile(testLedger(rate, ['new', 'new']), rate, fileOf(columns, 0), false).fileOffsetUs).toBe(0);
  });
});

describe('runs, holes and pieces', () => {
  const columns = testLedger(rate, [
    'new',
    ['encode-miss', 'queue-full'],
    ['encode-miss', 'queue-full'],
    ['capture-miss', 'size-late'],
    'new',
    ['repeat', 'slow'],
    ['write-miss', 'drive-slow'],
  ]);
  it('joins neighbours of the same cause', () => {
    expect(lossRuns(columns).map((r) => [r.due, r.frames, r.cause])).toEqual([
      [1, 2, 'queue-full'],
      [3, 1, 'size-late'],
      [6, 1, 'drive-slow'],
    ]);
    expect(longestHole(columns)).toBe(3);
  });
  it('keeps every count in the pieces of a timeline, whatever their number', () => {
    fc.assert(
      fc.property(anyRows, fc.integer({ min: 1, max: 50 }), (rows, buckets) => {
        const some = testLedger(rate, rows);
        const pyramid = pyramidOf(some, rate, 0, some.length, buckets);
        const total = (values: number[]) => values.reduce((sum, v) => sum + v, 0);
        expect(total(pyramid.bytes)).toBe(
          Array.from(some.bytes)
            .filter((b) => b !== NEVER)
            .reduce((s, b) => s + b, 0),
        );
        expect(total(pyramid.captureMisses)).toBe(rows.filter((r) => r[0] === 'capture-miss').length);
        expect(total(pyramid.encodeMisses)).toBe(rows.filter((r) => r[0] === 'encode-miss').length);
        expect(total(pyramid.writeMisses)).toBe(rows.filter((r) => r[0] === 'write-miss').length);
        expect(total(pyramid.repeats)).toBe(rows.filter((r) => r[0] === 'repeat').length);
      }),
    );
  });
  it('shows a long frame time as a maximum, never smoothed away', () => {
    const slow = testLedger(rate, ['new', 'new', ['repeat', 'slow'], ['repeat', 'slow'], 'new', 'new']);
    expect(Math.max(...pyramidOf(slow, rate, 0, 6, 2).maxMs.map((v) => v ?? 0))).toBeCloseTo(50, 0);
  });
  it('slices, joins and shows rows with null for never', () => {
    const joined = concatColumns([sliceColumns(columns, 0, 3), sliceColumns(columns, 3, 7)]);
    expect(toRows(joined, 0)).toEqual(toRows(columns, 0));
    expect(toRows(columns, 0).written[1]).toBeNull();
    expect(csvRows(columns, 1, 2)).toBe('1,16667,,,,,,,,,,0,encode-miss,queue-full,0\r\n');
    expect(csvHeading.split(',')).toHaveLength(csvRows(columns, 0, 1).split(',').length);
  });
});

describe('a game’s run', () => {
  it('1 % low is 1000 / the 99th percentile, from 1 000 frames on', () => {
    const times = [...Array<number>(990).fill(10), ...Array<number>(10).fill(20)];
    // Position 0.99 x 999 = 989.01 between 10 and 20: 10.1 ms.
    expect(gameRunOf(times).onePercentLowFps).toBeCloseTo(1000 / 10.1, 6);
    expect(gameRunOf(times.slice(0, 999)).onePercentLowFps).toBeNull();
    expect(gameRunOf(times.slice(100)).slowestMs).toEqual([20, 20, 20, 20, 20]);
    expect(gameRunOf(times).meanFps).toBeCloseTo(1000 / 10.1, 6);
  });
  it('play cost = 1 - with / without', () => {
    expect(playCostShare(117, 124)).toBeCloseTo(0.056, 3);
    expect(playCostShare(117, 0)).toBe(0);
  });
});
