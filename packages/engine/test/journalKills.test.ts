import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, mkdtempSync, readFileSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { journalSteps, provenAt, reserveFile, undoJournal, whatLiesAt, writePartsList } from '@mellow/engine';
import type { MediaJobInput } from '@mellow/model';
import { bundle } from '../../../scripts/bundle-engine.mjs';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';

/**
 * Every sequence of steps on files, killed at every step of it and between its end and whoever stores what came of it: afterwards the
 * source, or what took its place, is whole, and nothing lies there that nobody knows.
 */
let bench: TakeBench;
let take: MadeTake;
const others: string[] = [];
beforeAll(async () => {
  await bundle({ killedJob: 'packages/engine/test/support/killedJob.ts' });
  bench = await openTakeBench();
  take = await bench.make({ order: { dueFrames: 30 } });
});
afterAll(() => {
  bench.close();
  for (const folder of others) rmSync(folder, { recursive: true, force: true });
});

const hashOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const filesIn = (folder: string): string[] =>
  readdirSync(folder)
    .filter((name) => statSync(join(folder, name)).isFile() && !name.endsWith('.ndjson'))
    .sort();

/** @returns whether the job was killed; false: it came to its end before that step */
function killed(job: MediaJobInput, journal: string, at: number, when: 'before' | 'noted'): boolean {
  const args = [join(__dirname, '../build/killedJob.mjs'), JSON.stringify(job), journal, String(at), when];
  const child = spawnSync(process.execPath, args, { encoding: 'utf8' });
  if (child.signal === 'SIGKILL') return true;
  if (child.status === 7) return false;
  throw new Error(`The job ended with ${child.status}: ${child.stderr}`);
}

/** Kills at each step, both ways, until the job comes to its end. @returns number of its steps */
function killEverywhere(once: (at: number, when: 'before' | 'noted') => boolean): number {
  for (let at = 1; ; at++) {
    if (!once(at, 'before')) return at - 1;
    once(at, 'noted');
  }
}

const rate = { num: 60, den: 1 };
it.each(['one file into another container', 'parts into one file', 'a lane to hear'] as const)(
  '%s: whenever it is killed, the take stays and nothing else does',
  (what) => {
    const { driveFolder } = take.order;
    const source = take.result.filePath;
    const list = (): string =>
      writePartsList(take.order.ledgerFolder, [
        { path: source, startUs: 0 },
        { path: source, startUs: 5e5 },
      ]);
    const outPath = join(driveFolder, 'made.mp4');
    const job: MediaJobInput =
      what === 'a lane to hear'
        ? { kind: 'hear', filePath: source, lane: 0, outPath, rate }
        : { kind: 'rewrap', filePath: what === 'parts into one file' ? list() : source, outPath, rate, asIs: false };
    const [before, hash] = [filesIn(driveFolder), hashOf(source)];
    const steps = killEverywhere((at, when) => {
      const journal = join(driveFolder, `${at}-${when}.ndjson`);
      const wasKilled = killed(job, journal, at, when);
      // Its result may be somebody's by then: what they have is theirs.
      undoJournal(journal, () => !wasKilled);
      expect({ at, when, files: filesIn(driveFolder) }).toEqual({
        ...{ at, when },
        files: wasKilled ? before : [...before, 'made.mp4'].sort(),
      });
      expect(hashOf(source)).toBe(hash);
      return wasKilled;
    });
    expect(steps).toBeGreaterThanOrEqual(3);
    rmSync(outPath);
  },
  120_000,
);

it('what nobody stored is made again: a finished copy without an owner goes', () => {
  const { driveFolder } = take.order;
  const before = filesIn(driveFolder);
  const journal = join(driveFolder, 'ended.ndjson');
  const job = {
    kind: 'rewrap',
    filePath: take.result.filePath,
    outPath: join(driveFolder, 'end.mp4'),
    rate,
    asIs: false,
  } as const;
  expect(killed(job, journal, 99, 'before')).toBe(false);
  expect(filesIn(driveFolder)).toContain('end.mp4');
  undoJournal(journal);
  expect(filesIn(driveFolder)).toEqual(before);
});

// A file is copied only between two file systems; a RAM disk is one everywhere on Linux.
const onLinux = process.platform === 'linux' ? it : it.skip;
onLinux(
  'a move between drives: whenever it is killed, the footage is whole at the one place or at the other',
  () => {
    const there = mkdtempSync('/dev/shm/mellow-move-');
    others.push(there);
    expect(statSync(there).dev).not.toBe(statSync(bench.folder).dev);
    const hash = hashOf(take.result.filePath);
    const steps = killEverywhere((at, when) => {
      const here = mkdtempSync(join(bench.folder, 'from-'));
      const from = reserveFile(join(here, 'take.mkv'));
      copyFileSync(take.result.filePath, from.path);
      const target = reserveFile(join(there, `${at}-${when}.mkv`));
      const journal = join(here, 'journal.ndjson');
      const wasKilled = killed(
        {
          kind: 'move-file',
          filePath: from.path,
          identity: from.identity,
          outPath: target.path,
          outIdentity: target.identity,
        },
        journal,
        at,
        when,
      );
      const proven = provenAt(journalSteps(journal), target.path);
      const arrived = proven !== null && whatLiesAt(target.path, proven) === 'same';
      undoJournal(journal);
      if (arrived) expect(hashOf(target.path)).toBe(hash);
      else {
        expect(hashOf(from.path)).toBe(hash);
        // Its reservation is the take's, which gives it back.
        expect(statSync(target.path).size).toBe(0);
      }
      expect(arrived).toBe(!wasKilled);
      expect(filesIn(there).filter((name) => name.includes('.part-'))).toEqual([]);
      return wasKilled;
    });
    expect(steps).toBe(2);
  },
  60_000,
);
