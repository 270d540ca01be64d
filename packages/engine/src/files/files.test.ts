import { existsSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeDurably } from './durable';
import { identityOfPath, whatLiesAt } from './identity';
import { giveBack, replaceOwn, reserveFile } from './reserve';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-files-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe('reserved names', () => {
  it('are taken exclusively; a name that is there gets a number', () => {
    writeFileSync(join(folder, 'run.mkv'), 'mine');
    const names = [1, 2, 3].map(() => reserveFile(join(folder, 'run.mkv')).path);
    expect(names).toEqual(['run 2.mkv', 'run 3.mkv', 'run 4.mkv'].map((name) => join(folder, name)));
    expect(readFileSync(join(folder, 'run.mkv'), 'utf8')).toBe('mine');
  });
  it('are given back only while the file is the same', () => {
    const kept = reserveFile(join(folder, 'a.mkv'));
    rmSync(kept.path);
    writeFileSync(kept.path, 'another');
    giveBack(kept);
    expect(readFileSync(kept.path, 'utf8')).toBe('another');
    const own = reserveFile(join(folder, 'b.mkv'));
    giveBack(own);
    expect(existsSync(own.path)).toBe(false);
  });
  it('are replaced by a finished file only while they are the same', () => {
    const own = reserveFile(join(folder, 'c.mkv'));
    writeFileSync(join(folder, 'c.part'), 'done');
    replaceOwn(join(folder, 'c.part'), own);
    expect(readFileSync(own.path, 'utf8')).toBe('done');
    const other = reserveFile(join(folder, 'd.mkv'));
    rmSync(other.path);
    writeFileSync(other.path, 'somebody’s');
    writeFileSync(join(folder, 'd.part'), 'done');
    expect(() => replaceOwn(join(folder, 'd.part'), other)).toThrow(/Another file/);
    expect(readFileSync(other.path, 'utf8')).toBe('somebody’s');
  });
});

describe('the identity of a file', () => {
  it('stays through writing and renaming, and is lost when another takes its place', () => {
    const path = join(folder, 'x.mkv');
    writeFileSync(path, 'a');
    const identity = identityOfPath(path);
    writeFileSync(path, 'more of it', { flag: 'a' });
    expect(whatLiesAt(path, identity)).toBe('same');
    renameSync(path, join(folder, 'y.mkv'));
    expect([whatLiesAt(path, identity), whatLiesAt(join(folder, 'y.mkv'), identity)]).toEqual(['nothing', 'same']);
    // File systems give numbers out again at once; the moment of birth tells the two apart.
    rmSync(join(folder, 'y.mkv'));
    for (let i = 0; i < 20; i++) {
      writeFileSync(path, 'another');
      expect(whatLiesAt(path, identity)).toBe('other');
      rmSync(path);
    }
  });
});

describe('durable writing', () => {
  it('leaves the whole file or the earlier one, and nothing beside', () => {
    const path = join(folder, 'header.json');
    writeDurably(path, 'one');
    writeDurably(path, 'two');
    expect(readFileSync(path, 'utf8')).toBe('two');
    expect(() => writeDurably(join(folder, 'no/such/place'), 'x')).toThrow(/ENOENT/);
    expect(readdirSync(folder)).toEqual(['header.json']);
  });
});
