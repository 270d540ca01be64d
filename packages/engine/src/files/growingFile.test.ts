import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as fc from 'fast-check';
import { openFiles, writingInParts } from './system.test-support';
import { openGrowingFile } from './growingFile';
import { reserveFile } from './reserve';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-growing-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const reserved = () => reserveFile(join(folder, 'take.mkv'));
const bytesOf = (text: string): Uint8Array => Buffer.from(text);

describe('a file that grows', () => {
  it('holds what was written at any position, and its end is the furthest of it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ at: fc.nat(3000), bytes: fc.uint8Array({ minLength: 1, maxLength: 500 }) }), {
          maxLength: 30,
        }),
        (writes) => {
          const own = reserveFile(join(folder, 'walk.mkv'));
          const file = openGrowingFile(own);
          const wanted = Buffer.alloc(Math.max(0, ...writes.map(({ at, bytes }) => at + bytes.length)));
          for (const { at, bytes } of writes) {
            expect(file.write(at, bytes, Infinity)).toEqual({ done: bytes.length, error: null });
            wanted.set(bytes, at);
          }
          expect(file.end()).toBe(wanted.length);
          file.close();
          expect(readFileSync(own.path).equals(wanted)).toBe(true);
          rmSync(own.path);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('is begun anew where an earlier recorder had begun it, and never where another file lies', () => {
    const own = reserved();
    writeFileSync(own.path, 'of an earlier recorder');
    const file = openGrowingFile(own);
    file.write(0, bytesOf('new'), Infinity);
    file.close();
    expect(readFileSync(own.path, 'utf8')).toBe('new');
    rmSync(own.path);
    writeFileSync(own.path, 'somebody’s');
    const before = openFiles();
    expect(() => openGrowingFile(own)).toThrow(/Another file lies at .* It was not touched/);
    expect(readFileSync(own.path, 'utf8')).toBe('somebody’s');
    expect(openFiles()).toBe(before);
  });

  it('takes as much as there is room for, and says what refused the rest', () => {
    const own = reserved();
    const file = openGrowingFile(own);
    expect(file.write(0, bytesOf('0123456789'), 4)).toMatchObject({ done: 4, error: { code: 'ENOSPC' } });
    expect(file.end()).toBe(4);
    expect(file.write(4, bytesOf('ab'), 6)).toEqual({ done: 2, error: null });
    expect(file.write(6, bytesOf('c'), 6)).toMatchObject({ done: 0, error: { code: 'ENOSPC' } });
    // The head is patched although there is no room any more: it takes none.
    expect(file.write(0, bytesOf('X'), 6)).toEqual({ done: 1, error: null });
    expect(file.end()).toBe(6);
    file.close();
    expect(readFileSync(own.path, 'utf8')).toBe('X123ab');
    expect(file.write(0, bytesOf('late'), Infinity)).toMatchObject({ done: 0, error: { code: 'EBADF' } });
  });

  it('is whole where the system takes a few bytes at a time', () => {
    const own = reserved();
    const file = openGrowingFile(own);
    const end = writingInParts(3);
    expect(file.write(0, bytesOf('0123456789'), Infinity)).toEqual({ done: 10, error: null });
    expect(file.write(4, bytesOf('abcdefgh'), 11)).toMatchObject({ done: 7, error: { code: 'ENOSPC' } });
    end();
    file.close();
    expect(readFileSync(own.path, 'utf8')).toBe('0123abcdefg');
  });

  it('is flushed when something was written since, also before its end, and not otherwise', () => {
    let flushes = 0;
    const file = openGrowingFile(reserved(), () => void flushes++);
    expect([file.sync(), flushes]).toEqual([0, 0]);
    file.write(0, bytesOf('abc'), Infinity);
    expect([file.sync(), flushes]).toEqual([3, 1]);
    expect([file.sync(), flushes]).toEqual([3, 1]);
    file.write(0, bytesOf('X'), Infinity);
    expect([file.sync(), flushes]).toEqual([3, 2]);
    file.write(3, bytesOf('d'), 3);
    expect([file.sync(), flushes]).toEqual([3, 2]);
    file.finish();
    file.close();
  });

  it('stays to be flushed where the drive refused to', () => {
    let refuses = true;
    const file = openGrowingFile(reserved(), () => {
      if (refuses) throw new Error('I/O error');
    });
    file.write(0, bytesOf('abc'), Infinity);
    expect(() => file.sync()).toThrow('I/O error');
    refuses = false;
    expect(file.sync()).toBe(3);
    file.close();
  });

  it('knows whether it still lies at its name', () => {
    const own = reserved();
    const file = openGrowingFile(own);
    expect(file.lies()).toBe('same');
    renameSync(own.path, join(folder, 'elsewhere.mkv'));
    expect(file.lies()).toBe('nothing');
    writeFileSync(own.path, 'somebody’s');
    expect(file.lies()).toBe('other');
    file.close();
    const inner = join(folder, 'inner');
    mkdirSync(inner);
    const deeper = openGrowingFile(reserveFile(join(inner, 'take.mkv')));
    rmSync(inner, { recursive: true });
    writeFileSync(inner, 'a file where its folder was');
    expect(deeper.lies()).toBe('nothing');
    deeper.close();
  });

  it('saves every byte of a file whose name is gone, over as many pieces as it takes', () => {
    const own = reserved();
    const file = openGrowingFile(own);
    const bytes = Buffer.alloc(2_500_000, 'abcdefghijk');
    file.write(0, bytes, Infinity);
    rmSync(own.path);
    const told: number[] = [];
    const target = join(folder, 'saved.mkv');
    file.saveTo(target, (at) => told.push(at));
    expect(readFileSync(target).equals(bytes)).toBe(true);
    expect(told).toEqual([1 << 20, 2 << 20, 2_500_000]);
    // A name that is taken is nobody's to overwrite.
    const before = openFiles();
    expect(() => file.saveTo(target, () => {})).toThrow(/EEXIST/);
    expect(openFiles()).toBe(before);
    file.close();
    expect(existsSync(own.path)).toBe(false);
  });
});
