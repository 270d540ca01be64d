import {
  closeSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as fc from 'fast-check';
import { placeInStripes, stripeLayout } from '@mellow/core';
import { syncFile, syncFolder, writeDurably, writeFully } from './durable';
import { deviceOf, freeBytes } from './freeRoom';
import { openFiles, writingInParts } from './system.test-support';
import { discardPair, reservePair } from './pairFile';
import { fileLines, filePieces } from './pieces';
import { holdReserve } from './reserveRoom';
import { openStripedReading } from './stripedReading';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-reading-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const file = (name: string): string => join(folder, name);

describe('bytes and lines of a file', () => {
  it('come in whole, whatever lies at the border of a piece', () => {
    // Letters of two and four bytes around the first megabyte.
    for (const before of [(1 << 20) - 3, (1 << 20) - 2, (1 << 20) - 1, 1 << 20]) {
      const text = `${'x'.repeat(before)}é🎬\nsecond\n\nlast without an end`;
      writeFileSync(file('a.ndjson'), text);
      expect([...fileLines(file('a.ndjson'))]).toEqual([`${'x'.repeat(before)}é🎬`, 'second', '']);
      const pieces = [...filePieces(file('a.ndjson'))];
      expect(Buffer.concat(pieces).toString('utf8')).toBe(text);
      expect(pieces.every(({ length }) => length <= 1 << 20)).toBe(true);
    }
    writeFileSync(file('empty'), '');
    expect([...filePieces(file('empty'))]).toEqual([]);
    expect([...fileLines(file('empty'))]).toEqual([]);
  });
  it('are let go when the reader stops', () => {
    writeFileSync(file('a'), 'one\ntwo\n');
    const before = openFiles();
    for (const line of fileLines(file('a'))) if (line === 'one') break;
    expect(openFiles()).toBe(before);
  });
});

describe('writing', () => {
  it('puts bytes where they belong, or on behind what is there', () => {
    const handle = openSync(file('a'), 'w+');
    writeFully(handle, Buffer.from('abcdef'), null);
    writeFully(handle, Buffer.from('g'), null);
    writeFully(handle, Buffer.from('XY'), 2);
    writeFully(handle, new Uint8Array(0), 0);
    closeSync(handle);
    expect(readFileSync(file('a'), 'utf8')).toBe('abXYefg');
    // The system may take only a part of it.
    const end = writingInParts(2);
    writeDurably(file('b'), 'abcdefg');
    const again = openSync(file('b'), 'r+');
    writeFully(again, Buffer.from('12345'), 1);
    closeSync(again);
    end();
    expect(readFileSync(file('b'), 'utf8')).toBe('a12345g');
  });
  it('durably keeps text and bytes as they are, for whom it says, and lets everything go', () => {
    const before = openFiles();
    writeDurably(file('text'), 'é');
    writeDurably(file('bytes'), new Uint8Array([0, 255, 128]), 0o600);
    syncFile(file('bytes'));
    syncFolder(folder);
    // A folder that cannot be flushed keeps names by its system's own rules.
    syncFolder(file('nowhere'));
    expect(readFileSync(file('text'), 'utf8')).toBe('é');
    expect([...readFileSync(file('bytes'))]).toEqual([0, 255, 128]);
    if (process.platform !== 'win32') expect(statSync(file('bytes')).mode & 0o777).toBe(0o600);
    expect(() => syncFile(file('nowhere'))).toThrow(/ENOENT/);
    expect(() => writeDurably(join(folder, 'no', 'folder'), 'x')).toThrow(/ENOENT/);
    // What cannot get its name leaves nothing.
    mkdirSync(join(folder, 'taken', 'full'), { recursive: true });
    expect(() => writeDurably(file('taken'), 'x')).toThrow();
    expect(readdirSync(folder).sort()).toEqual(['bytes', 'taken', 'text']);
    expect(openFiles()).toBe(before);
  });
});

describe('room that is kept back', () => {
  it('is there to the byte, in bytes that cannot be made smaller, and is given up once', () => {
    const path = file('reserve');
    writeFileSync(path, 'of an earlier recorder');
    const before = openFiles();
    const room = holdReserve(path, 2_500_000);
    expect([room.held(), room.trouble, statSync(path).size]).toEqual([true, null, 2_500_000]);
    expect(new Set(readFileSync(path).subarray(0, 4096)).size).toBeGreaterThan(200);
    expect([room.giveUp(), room.held(), existsSync(path), room.giveUp()]).toEqual([true, false, false, false]);
    expect(openFiles()).toBe(before);
  });
  it('says why there is none', () => {
    const room = holdReserve(join(folder, 'no', 'folder'), 1000);
    expect(room.held()).toBe(false);
    expect(room.trouble).toMatch(/ENOENT/);
    expect(room.giveUp()).toBe(false);
  });
  it('is told of the folder where the system tells', () => {
    expect(freeBytes(folder)).toBeGreaterThan(0);
    expect(freeBytes(file('nowhere'))).toBeNull();
    expect(deviceOf(folder)).toBe(statSync(folder).dev);
    expect(deviceOf(file('nowhere'))).toBeNull();
  });
});

describe('stripes', () => {
  const layout = { ...stripeLayout([2e8, 1e8], 'by-speed'), blockBytes: 100 };
  /** Blocks of a whole file, dealt out as the layout says. */
  function dealt(whole: Buffer): string[] {
    const stripes = [Buffer.alloc(0), Buffer.alloc(0)];
    for (let at = 0; at < whole.length;) {
      const { stripe, bytes } = placeInStripes(layout, at);
      stripes[stripe] = Buffer.concat([stripes[stripe]!, whole.subarray(at, at + bytes)]);
      at += bytes;
    }
    return stripes.map((bytes, i) => {
      writeFileSync(file(`s${i}`), bytes);
      return file(`s${i}`);
    });
  }
  it('are read as the one file they are blocks of, from anywhere, and no further than their end', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1999 }),
        fc.nat(2100),
        fc.integer({ min: 1, max: 250 }),
        (size, at, most) => {
          const whole = Buffer.from(Array.from({ length: size }, (_, i) => (i * 7) % 251));
          const reading = openStripedReading(layout, dealt(whole));
          expect(reading.bytes).toBe(size);
          const into = Buffer.alloc(most);
          const count = reading.read(into, at);
          expect(count).toBe(at >= size ? 0 : Math.min(most, size - at, 100 - (at % 100)));
          expect(into.subarray(0, count).equals(whole.subarray(at, at + count))).toBe(true);
          reading.close();
        },
      ),
      { numRuns: 200 },
    );
  });
  it('end before the first block that is missing', () => {
    const whole = Buffer.alloc(900, 'abc');
    const [, second] = dealt(whole);
    writeFileSync(second!, readFileSync(second!).subarray(0, 130));
    const reading = openStripedReading(layout, [file('s0'), second!]);
    expect(reading.bytes).toBeLessThan(900);
    expect(reading.bytes).toBeGreaterThan(0);
    const into = Buffer.alloc(100);
    expect(reading.read(into, reading.bytes)).toBe(0);
    reading.close();
  });
  it('let everything go where one of them is not there', () => {
    writeFileSync(file('s0'), 'x');
    const before = openFiles();
    expect(() => openStripedReading(layout, [file('s0'), file('gone')])).toThrow(/ENOENT/);
    expect(openFiles()).toBe(before);
    const reading = openStripedReading(layout, [file('s0'), file('s0')]);
    reading.close();
    reading.close();
    expect(openFiles()).toBe(before);
  });
});

describe('a recording that is thrown away', () => {
  const order = () => ({ ledgerFolder: file('ledger'), filePath: file('take.mkv') });
  it('goes with its folder and its note, whoever removes it', () => {
    const { folder: pair, reserved } = reservePair(order());
    writeFileSync(reserved.path, 'recorded');
    expect(pair.startsWith(file('ledger'))).toBe(true);
    expect(reserved.path).toMatch(/take\.part-.*\.mkv$/);
    discardPair(file('ledger'));
    expect(existsSync(reserved.path)).toBe(false);
    expect(existsSync(pair)).toBe(false);
    // Nothing is there any more, and nothing is wrong with that.
    discardPair(file('ledger'));
  });
  it('leaves a file that is another one by now, and minds no broken note', () => {
    const { folder: pair, reserved } = reservePair(order());
    rmSync(reserved.path);
    writeFileSync(reserved.path, 'somebody’s');
    discardPair(file('ledger'));
    expect(readFileSync(reserved.path, 'utf8')).toBe('somebody’s');
    for (const broken of ['', '{"path":', '{}']) {
      mkdirSync(pair, { recursive: true });
      writeFileSync(join(pair, 'pair-file.json'), broken);
      discardPair(file('ledger'));
      expect(existsSync(pair)).toBe(false);
    }
  });
});
