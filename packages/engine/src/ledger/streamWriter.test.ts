import {
  appendFileSync,
  existsSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createColumns, plainPracticeGame, startRecipe, type LedgerColumns } from '@mellow/core';
import { practiceSource, stationNames, type LedgerHeader, type SecondRow } from '@mellow/model';
import { ledgerNames } from '../files/ledgerNames';
import { openFiles } from '../files/system.test-support';
import { liveBatches, readHeader, readLedgerColumns, readSeconds } from './storedLedger';
import { copyRows, openLedgerStream } from './streamWriter';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-stream-'))));
afterEach(() => {
  jest.restoreAllMocks();
  rmSync(folder, { recursive: true, force: true });
});

const rate = { num: 60, den: 1 };
const header: LedgerHeader = {
  takeId: 't',
  recipe: startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd'),
  game: plainPracticeGame,
  source: practiceSource,
  machine: { name: 'this PC', cores: 2, processor: 'p', memoryBytes: 1, system: 's', origin: 'measured' },
  origin: 'measured',
  clock: 'driven',
  rate,
  startedAt: '2026-01-01T00:00:00.000Z',
  file: '/takes/é.mkv',
  identity: null,
  enginePid: 1,
  engineSocket: '',
};
const rowsFrom = (first: number, length: number): LedgerColumns => {
  const columns = createColumns(length);
  for (let i = 0; i < length; i++) {
    columns.dueUs[i] = (first + i) * 16_667;
    columns.bytes[i] = first + i;
  }
  return columns;
};
const second = (n: number): SecondRow => ({
  second: n,
  due: (n + 1) * 60,
  load: Object.fromEntries(stationNames.map((name) => [name, { meanMs: null, busiestMs: null }])) as SecondRow['load'],
  processor: null,
  encodeWaitingS: null,
  ...{ bytesWritten: 0, bytesQueued: 0, driveLatencyMs: 0, lanePeakDbfs: [] },
  game: { frames: 60, meanMs: null, slowestMs: null },
});
/** The drive of the ledger refuses from the nth write of this call on. */
function refusing(after = 0): () => void {
  const real = process.getBuiltinModule('node:fs');
  const { writeSync } = real;
  let writes = 0;
  const spy = jest.spyOn(real, 'writeSync').mockImplementation(((
    ...args: [number, Uint8Array, number, number, number]
  ) => {
    if (writes++ < after) return writeSync(...args);
    // A part of it goes in, as on a drive that has just become full.
    const [handle, bytes, , , position] = args;
    if (writes === after + 1 && bytes.length > 10) return writeSync(handle, bytes, 0, 10, position);
    throw Object.assign(new Error('no space left on device'), { code: 'ENOSPC' });
  }) as never);
  return () => spy.mockRestore();
}
const filed = (): number[] => [...readLedgerColumns(folder).bytes];
const count = (length: number): number[] => Array.from({ length }, (_, i) => i);

describe('the stream of a ledger', () => {
  it('has its header first, and every row and second as they were told', () => {
    const before = openFiles();
    const writer = openLedgerStream(folder, header);
    expect(readHeader(folder)).toEqual(header);
    writer.append(rowsFrom(0, 60), second(0));
    writer.append(rowsFrom(60, 0), second(1));
    writer.append(rowsFrom(60, 45), null);
    expect([writer.trouble(), writer.lostRows()]).toEqual([null, 0]);
    writer.end();
    expect(filed()).toEqual(count(105));
    expect([...liveBatches(folder)].map(({ length }) => length)).toEqual([60, 45]);
    expect(readSeconds(folder)).toEqual([second(0), second(1)]);
    expect(openFiles()).toBe(before);
  });

  it('keeps what cannot be written, and writes it over what the failed try left behind', () => {
    const writer = openLedgerStream(folder, header);
    writer.append(rowsFrom(0, 60), second(0));
    for (const after of [0, 1]) {
      const again = refusing(after);
      const first = after ? 180 : 60;
      writer.append(rowsFrom(first, 60), second(first / 60));
      expect(writer.trouble()).toMatch(/no space left/);
      // One batch may have gone in before the seconds were refused.
      expect(writer.lostRows()).toBe(after ? 0 : 60);
      again();
      writer.append(rowsFrom(first + 60, 60), second(first / 60 + 1));
      expect([writer.trouble(), writer.lostRows()]).toEqual([null, 0]);
    }
    writer.end();
    expect(filed()).toEqual(count(300));
    expect(readSeconds(folder).map((row) => row.second)).toEqual([0, 1, 2, 3, 4]);
  });

  it('gives rows up after an hour that nobody could write, counts them, and goes on when it can', () => {
    const writer = openLedgerStream(folder, header);
    writer.append(rowsFrom(0, 60), second(0));
    const again = refusing();
    writer.append(rowsFrom(60, 216_000), second(1));
    expect(writer.lostRows()).toBe(216_000);
    writer.append(rowsFrom(216_060, 1), second(2));
    expect(writer.lostRows()).toBe(216_001);
    again();
    expect(writer.trouble()).toMatch(/no space left/);
    writer.append(rowsFrom(216_061, 60), second(3));
    // What was given up stays counted.
    expect([writer.trouble(), writer.lostRows()]).toEqual([null, 216_001]);
    writer.end();
    expect(filed()).toEqual([...count(60), ...count(60).map((n) => 216_061 + n)]);
    expect(readSeconds(folder).map((row) => row.second)).toEqual([0, 3]);
  });

  it('gives its whole batches and seconds where it is cut off, and nothing where there is none', () => {
    const writer = openLedgerStream(folder, header);
    for (let n = 0; n < 3; n++) writer.append(rowsFrom(n * 60, 60), second(n));
    writer.end();
    const path = join(folder, ledgerNames.stream);
    truncateSync(path, statSync(path).size - 5);
    const secondsPath = join(folder, ledgerNames.seconds);
    truncateSync(secondsPath, statSync(secondsPath).size - 1);
    expect(filed()).toEqual(count(120));
    expect(readSeconds(folder)).toHaveLength(2);
    writeFileSync(secondsPath, `${JSON.stringify(second(0))}\nnot a second\n${JSON.stringify(second(1))}\n`);
    expect(readSeconds(folder)).toHaveLength(1);
    writeFileSync(path, '');
    expect(filed()).toEqual([]);
    rmSync(path);
    rmSync(secondsPath);
    expect([filed(), readSeconds(folder)]).toEqual([[], []]);
    // An empty closed ledger was reserved and not written: the stream is what there is.
    writeFileSync(join(folder, ledgerNames.closed), '');
    expect(filed()).toEqual([]);
    appendFileSync(path, 'this is no ledger at all');
    expect(() => filed()).toThrow();
    writeFileSync(join(folder, ledgerNames.header), '{"takeId":');
    expect(() => readHeader(folder)).toThrow('the description of the take (header.json) is broken');
  });

  it('copies rows out of the ring with the time at which each is due', () => {
    const rows = copyRows(
      (from, to, target, due) => {
        for (let n = from; n < to; n++) [target.dueUs[n - from], target.bytes[n - from]] = [due(n), n];
      },
      rate,
      60,
      63,
    );
    expect(rows.length).toBe(3);
    expect([...rows.dueUs].map(Math.round)).toEqual([1_000_000, 1_016_667, 1_033_333]);
    expect([...rows.bytes]).toEqual([60, 61, 62]);
    expect(existsSync(join(folder, ledgerNames.header))).toBe(false);
    expect(() => readFileSync(join(folder, ledgerNames.header))).toThrow();
  });
});
