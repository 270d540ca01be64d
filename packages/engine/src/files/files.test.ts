import {
  appendFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { temporaryBeside, writeDurably } from './durable';
import { identityOfPath, whatLiesAt } from './identity';
import { journalSteps, openJournal, provenAt, reserveNoted, undoJournal, type JournalStep } from './journal';
import { moveFile } from './moveFile';
import { openFiles } from './system.test-support';
import { giveBack, replaceOwn, reserveFile } from './reserve';

/** Renaming into it fails, as between two file systems. */
const otherDrive = (): never => {
  throw Object.assign(new Error('another file system'), { code: 'EXDEV' });
};

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
    writeFileSync(own.path, 'footage');
    giveBack(own);
    expect(readFileSync(own.path, 'utf8')).toBe('footage');
    writeFileSync(own.path, '');
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
    rmSync(other.path);
    expect(() => replaceOwn(join(folder, 'd.part'), other, false)).toThrow(/is gone/);
    expect(readFileSync(join(folder, 'd.part'), 'utf8')).toBe('done');
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

describe('the date of a file', () => {
  it('stays when its identity is asked for, and when it is moved', () => {
    const date = new Date('2026-01-02T03:04:05Z');
    const path = join(folder, 'old.mkv');
    writeFileSync(path, 'footage');
    utimesSync(path, date, date);
    const identity = identityOfPath(path);
    expect(statSync(path).mtimeMs).toBe(date.getTime());
    const steps: string[] = [];
    const target = reserveFile(join(folder, 'moved.mkv'));
    const moved = moveFile(
      path,
      identity,
      target,
      () => {},
      ({ step }) => void steps.push(step),
      otherDrive,
    );
    expect(statSync(moved.path).mtimeMs).toBe(date.getTime());
    expect(whatLiesAt(moved.path, moved.identity)).toBe('same');
    expect(steps).toEqual(['temporary', 'proven']);
    expect(existsSync(path)).toBe(false);
  });
});

describe('moving a file to another drive', () => {
  it('leaves what was put in its place meanwhile, and takes no place that was given up', () => {
    const path = join(folder, 'from.mkv');
    writeFileSync(path, 'footage');
    const identity = identityOfPath(path);
    const replace = ({ step }: JournalStep): void => {
      if (step !== 'proven') return;
      rmSync(path);
      writeFileSync(path, 'somebody’s');
    };
    moveFile(path, identity, reserveFile(join(folder, 'to.mkv')), () => {}, replace, otherDrive);
    expect(readFileSync(path, 'utf8')).toBe('somebody’s');
    expect(readFileSync(join(folder, 'to.mkv'), 'utf8')).toBe('footage');
    const target = reserveFile(join(folder, 'given up.mkv'));
    const giveUp = ({ step }: JournalStep): void => void (step === 'proven' && rmSync(target.path));
    expect(() => moveFile(path, null, target, () => {}, giveUp, otherDrive)).toThrow(/is gone/);
    expect(readFileSync(path, 'utf8')).toBe('somebody’s');
    expect(existsSync(target.path)).toBe(false);
  });
});

describe('a journal', () => {
  it('tells its steps up to one that was cut off, and undoes what is not finished', () => {
    const path = join(folder, 'a.ndjson');
    const journal = openJournal(path);
    const [empty, taken] = [reserveFile(join(folder, 'e.mkv')), reserveFile(join(folder, 't.mkv'))];
    const temporary = join(folder, 't.part.mkv');
    writeFileSync(temporary, 'half');
    journal({ step: 'reserved', ...empty });
    journal({ step: 'reserved', ...taken });
    journal({ step: 'temporary', path: temporary });
    writeFileSync(join(folder, 'whole'), 'whole');
    const identity = identityOfPath(join(folder, 'whole'));
    journal({ step: 'proven', path: taken.path, identity });
    renameSync(join(folder, 'whole'), taken.path);
    appendFileSync(path, '{"step":"tempora');
    const steps = journalSteps(path);
    expect(steps.map(({ step }) => step)).toEqual(['reserved', 'reserved', 'temporary', 'proven']);
    expect(provenAt(steps, taken.path)).toEqual(identity);
    expect(provenAt(steps, empty.path)).toBeNull();
    undoJournal(path);
    expect(readdirSync(folder)).toEqual(['t.mkv']);
    expect(readFileSync(taken.path, 'utf8')).toBe('whole');
  });

  it('gives back a name that was about to be taken, and touches nothing that lay there or has something in it', () => {
    const path = join(folder, 'b.ndjson');
    const old = reserveFile(join(folder, 'old.mkv')).path;
    const journal = openJournal(path);
    const reserved = reserveNoted(join(folder, 'old.mkv'), journal);
    expect(reserved.path).toBe(join(folder, 'old 2.mkv'));
    // The server died before it could note that it has the name.
    const written = reserveFile(join(folder, 'written.mkv')).path;
    writeFileSync(written, 'x');
    const early = reserveFile(join(folder, 'early.mkv')).path;
    for (const [name, since] of [
      [old, Date.now() + 60_000],
      [written, 0],
      [early, 0],
      [join(folder, 'nothing.mkv'), 0],
    ] as const)
      journal({ step: 'reserving', path: name, atMs: since });
    undoJournal(path);
    expect(readdirSync(folder).sort()).toEqual(['old.mkv', 'written.mkv']);
  });

  it('removes what is made again, unless somebody has it or another file lies there', () => {
    const made = ['stored.mp4', 'nobody.mp4', 'other.mp4'].map((name) => reserveFile(join(folder, name)));
    const path = join(folder, 'c.ndjson');
    const journal = openJournal(path);
    for (const file of made) {
      writeFileSync(file.path, 'whole');
      journal({ step: 'remade', ...file });
    }
    rmSync(made[2]!.path);
    reserveFile(made[2]!.path);
    undoJournal(path, (one) => one === made[0]!.path);
    expect(readdirSync(folder).sort()).toEqual(['other.mp4', 'stored.mp4']);
  });
});

describe('steps of a journal', () => {
  it('stand on the drive before they are done, and are none where there is no journal', () => {
    const path = join(folder, 'd.ndjson');
    expect(journalSteps(path)).toEqual([]);
    const journal = openJournal(path);
    const before = openFiles();
    const reserved = reserveNoted(join(folder, 'run.mkv'), journal);
    const steps = journalSteps(path);
    expect(steps).toMatchObject([
      { step: 'reserving', path: reserved.path, atMs: expect.any(Number) },
      { step: 'reserved', ...reserved },
    ]);
    expect(Math.abs((steps[0] as { atMs: number }).atMs - Date.now())).toBeLessThan(5000);
    expect(openFiles()).toBe(before);
    expect(() => openJournal(join(folder, 'no', 'folder.ndjson'))({ step: 'temporary', path: 'x' })).toThrow(/ENOENT/);
    // Undoing what was never begun is nothing.
    undoJournal(join(folder, 'never.ndjson'));
    journal({ step: 'temporary', path: join(folder, 'never.part') });
    undoJournal(path);
    expect(readdirSync(folder)).toEqual([]);
  });
  it('a temporary file goes even where somebody has its name in writing: it is nothing before it is whole', () => {
    const path = join(folder, 'e.ndjson');
    const journal = openJournal(path);
    writeFileSync(join(folder, 'x.part'), 'half');
    journal({ step: 'temporary', path: join(folder, 'x.part') });
    const kept = reserveNoted(join(folder, 'kept.mkv'), journal);
    undoJournal(path, () => true);
    expect(readdirSync(folder)).toEqual(['kept.mkv']);
    expect(existsSync(kept.path)).toBe(true);
  });
  it('an empty file that lay there before the name was wanted is somebody’s', () => {
    const path = join(folder, 'f.ndjson');
    writeFileSync(join(folder, 'old.mkv'), '');
    openJournal(path)({ step: 'reserving', path: join(folder, 'old.mkv'), atMs: Date.now() + 3000 });
    undoJournal(path);
    expect(readdirSync(folder)).toEqual(['old.mkv']);
  });
});

describe('a name beside a file', () => {
  it.each([
    ['/home/anna.b/takes/heartbeat', /^\/home\/anna\.b\/takes\/heartbeat\.part-\d+-\d+$/],
    ['/home/anna.b/run.mkv', /^\/home\/anna\.b\/run\.part-\d+-\d+\.mkv$/],
  ])('of %s lies in its folder and keeps its ending', (path, wanted) => expect(temporaryBeside(path)).toMatch(wanted));
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
