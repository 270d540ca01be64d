import * as fs from 'node:fs';
import {
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
  type BigIntStats,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { identityOfNew, identityOfPath, isSameOpenFile, whatLiesAt } from './identity';
import { moveFile } from './moveFile';
import { openFiles } from './system.test-support';
import { reserveFile } from './reserve';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-identity-'))));
afterEach(() => {
  jest.restoreAllMocks();
  rmSync(folder, { recursive: true, force: true });
});
const file = (name: string, text = 'footage'): string => {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
};

/** What the file system tells of times: some keep no birth, and Node puts the last change in its place. */
function asToldBy(change: (stats: BigIntStats) => Partial<Record<keyof BigIntStats, bigint>>): void {
  // The module itself: what is imported here is a view of it.
  const real = process.getBuiltinModule('node:fs');
  const { fstatSync, statSync: stat } = real;
  const told = (stats: BigIntStats): BigIntStats =>
    Object.assign(Object.create(stats as object), change(stats)) as BigIntStats;
  jest
    .spyOn(real, 'fstatSync')
    .mockImplementation(((handle: number) => told(fstatSync(handle, { bigint: true }))) as never);
  jest.spyOn(real, 'statSync').mockImplementation(((path: string) => told(stat(path, { bigint: true }))) as never);
}

describe('where the file system keeps a birth', () => {
  it('it tells a file from every other, also on a drive that has another number by now', () => {
    const path = file('a');
    const identity = identityOfPath(path);
    expect(identity.bornNs).not.toBeNull();
    expect(whatLiesAt(path, identity)).toBe('same');
    expect(whatLiesAt(path, { ...identity, device: '999' })).toBe('same');
    expect(whatLiesAt(path, { ...identity, bornNs: '1' })).toBe('other');
    // An inode's number is used again, and so may a birth be in two files.
    expect(whatLiesAt(path, { ...identity, inode: '1' })).toBe('other');
    expect(whatLiesAt(join(folder, 'nowhere'), identity)).toBe('nothing');
    mkdirSync(join(folder, 'd'));
    expect(whatLiesAt(join(folder, 'd'), identity)).toBe('other');
  });
  it('a file that is made, changed and dated again keeps it, and nothing stays open', () => {
    const before = openFiles();
    const reserved = reserveFile(join(folder, 'a'));
    writeFileSync(reserved.path, 'more');
    utimesSync(reserved.path, 1e9, 1e9);
    expect(identityOfPath(reserved.path)).toEqual(reserved.identity);
    const handle = fs.openSync(reserved.path, 'r+');
    expect(identityOfNew(handle)).toEqual(reserved.identity);
    expect(isSameOpenFile(reserved.identity, handle)).toBe(true);
    expect(isSameOpenFile({ ...reserved.identity, inode: '1' }, handle)).toBe(false);
    fs.closeSync(handle);
    expect(openFiles()).toBe(before);
  });
  it('the date by which people sort it stays, whatever the last change was', () => {
    const path = file('a');
    // As a file that was just written: birth, change and last write may be one moment.
    for (const dated of [1.6e9, 1.7e9]) {
      utimesSync(path, dated, dated);
      identityOfPath(path);
      expect(statSync(path).mtimeMs / 1000).toBeCloseTo(dated, 3);
    }
  });
});

describe('where it keeps none', () => {
  it('device and inode are all there is, and a moment of change is never taken for a birth', () => {
    asToldBy(({ ctimeNs }) => ({ birthtimeNs: ctimeNs }));
    const path = file('a');
    const identity = identityOfPath(path);
    expect(identity.bornNs).toBeNull();
    expect(whatLiesAt(path, identity)).toBe('same');
    expect(whatLiesAt(path, { ...identity, device: '999' })).toBe('other');
    expect(whatLiesAt(path, { ...identity, inode: '1' })).toBe('other');
    writeFileSync(path, 'more of it');
    expect(whatLiesAt(path, identity)).toBe('same');
  });
  it('nothing is told where no time is told at all', () => {
    asToldBy(() => ({ birthtimeNs: 0n }));
    expect(identityOfPath(file('a')).bornNs).toBeNull();
  });
});

describe('moving', () => {
  it('by a name on one file system: nothing is copied, and who it is stays', () => {
    const source = reserveFile(join(folder, 'a.mkv'));
    writeFileSync(source.path, 'footage');
    const target = reserveFile(join(folder, 'b.mkv'));
    const steps: unknown[] = [];
    const moved = moveFile(
      source.path,
      source.identity,
      target,
      () => {},
      (step) => void steps.push(step),
    );
    expect(moved).toEqual({ path: target.path, identity: source.identity });
    expect(readFileSync(target.path, 'utf8')).toBe('footage');
    expect(whatLiesAt(target.path, source.identity)).toBe('same');
    expect(steps).toEqual([]);
  });
  it('is refused where the file or its target is another one by now, and gives the name back', () => {
    const source = reserveFile(join(folder, 'a.mkv'));
    const target = () => reserveFile(join(folder, 'b.mkv'));
    rmSync(source.path);
    file('a.mkv', 'somebody’s');
    expect(() => moveFile(source.path, source.identity, target(), () => {})).toThrow(/Another file lies at .*a\.mkv/);
    expect(fs.existsSync(join(folder, 'b.mkv'))).toBe(false);
    const taken = target();
    rmSync(taken.path);
    file('b.mkv', 'somebody’s, too');
    expect(() => moveFile(join(folder, 'a.mkv'), null, taken, () => {})).toThrow(/Another file lies at .*b\.mkv/);
    expect(['a.mkv', 'b.mkv'].map((name) => readFileSync(join(folder, name), 'utf8'))).toEqual([
      'somebody’s',
      'somebody’s, too',
    ]);
  });
  it('is not a copy where the system refuses for another reason', () => {
    const refused = (): never => {
      throw Object.assign(new Error('not allowed'), { code: 'EPERM' });
    };
    const target = reserveFile(join(folder, 'b.mkv'));
    expect(() => moveFile(file('a.mkv'), null, target, () => {}, undefined, refused)).toThrow('not allowed');
    expect(fs.existsSync(target.path)).toBe(false);
    expect(readFileSync(join(folder, 'a.mkv'), 'utf8')).toBe('footage');
  });
  it('between two is copied in pieces, told step by step, with its date, and all of it is let go', () => {
    const otherDrive = (): never => {
      throw Object.assign(new Error('another file system'), { code: 'EXDEV' });
    };
    const source = reserveFile(join(folder, 'a.mkv'));
    const bytes = Buffer.alloc(9_000_001, 'abcdefg');
    writeFileSync(source.path, bytes);
    utimesSync(source.path, 1.5e9, 1.6e9);
    const target = reserveFile(join(folder, 'b.mkv'));
    const before = openFiles();
    const told: [number, number][] = [];
    const steps: string[] = [];
    const moved = moveFile(
      source.path,
      source.identity,
      target,
      (done, of) => told.push([done, of]),
      ({ step }) => void steps.push(step),
      otherDrive,
    );
    expect(steps).toEqual(['temporary', 'proven']);
    // Four megabytes at a time, once written and once read.
    const ends = [4 << 20, 8 << 20, bytes.length];
    expect(told).toEqual([...ends, ...ends.map((end) => bytes.length + end)].map((done) => [done, 2 * bytes.length]));
    expect(readFileSync(target.path).equals(bytes)).toBe(true);
    expect(whatLiesAt(target.path, moved.identity)).toBe('same');
    expect(statSync(target.path).mtimeMs).toBeCloseTo(1.6e12, 0);
    expect(statSync(target.path).atimeMs).toBeGreaterThan(1.4e12);
    expect(fs.existsSync(source.path)).toBe(false);
    expect(openFiles()).toBe(before);
  });
  it('between two leaves everything as it was where the copy is not what was read', () => {
    const otherDrive = (): never => {
      throw Object.assign(new Error('another file system'), { code: 'EXDEV' });
    };
    const source = file('a.mkv', 'x'.repeat(5000));
    const target = reserveFile(join(folder, 'b.mkv'));
    const before = openFiles();
    let temporary = '';
    const spoil = (done: number, of: number): void => {
      if (done === of / 2) writeFileSync(temporary, 'y'.repeat(5000));
    };
    expect(() =>
      moveFile(source, null, target, spoil, (step) => void ('path' in step && (temporary = step.path)), otherDrive),
    ).toThrow(/is not what was read/);
    expect(fs.readdirSync(folder)).toEqual(['a.mkv']);
    expect(openFiles()).toBe(before);
  });
});
