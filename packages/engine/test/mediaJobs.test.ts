import {
  copyFileSync,
  existsSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { driveTestSchema, rescueResultSchema } from '@mellow/model';
import { journalSteps, ledgerNames, readLedgerColumns, runMediaJob, undoJournal } from '@mellow/engine';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';
import { probePictures, probeStreams } from './support/probe';

let bench: TakeBench;
let take: MadeTake;
const others = new Set<number>();
beforeAll(async () => {
  if (process.platform === 'linux') for (const pid of jobProcesses()) others.add(pid);
  bench = await openTakeBench();
  take = await bench.make({
    recipe: {
      lanes: [
        { name: 'All', sources: ['game', 'voice'], codec: 'flac', bitrateKbps: 320 },
        { name: 'Voice', sources: ['voice'], codec: 'aac', bitrateKbps: 128 },
      ],
    },
    encode: { bFrames: 2, effort: 'light' },
    order: { dueFrames: 300 },
  });
});
afterAll(() => bench.close());

/** Processes of jobs that these tests have started and that live; others of this worker may still rest. */
const jobProcesses = (): number[] =>
  readFileSync(`/proc/${process.pid}/task/${process.pid}/children`, 'utf8')
    .split(' ')
    .filter((pid) => pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('build/job.mjs'))
    .map(Number)
    .filter((pid) => !others.has(pid));
const openFiles = (pid: number): string[] =>
  readdirSync(`/proc/${pid}/fd`).flatMap((fd) => {
    try {
      return [readlinkSync(`/proc/${pid}/fd/${fd}`)];
    } catch {
      return [];
    }
  });

describe('media jobs', () => {
  it('copy picture and one lane into a file a page plays, without encoding again', async () => {
    const out = join(take.order.driveFolder, 'hear.mp4');
    await runMediaJob({ kind: 'hear', filePath: take.result.filePath, lane: 1, outPath: out });
    expect(probeStreams(out).map((s) => s.codec_name)).toEqual(['h264', 'aac']);
    const before = probePictures(take.result.filePath);
    const after = probePictures(out);
    expect(after.map((p) => p.bytes)).toEqual(before.map((p) => p.bytes));
    const shift = (after[0]?.timeUs ?? 0) - (before[0]?.timeUs ?? 0);
    after.forEach((p, i) => expect(Math.abs(p.timeUs - (before[i]?.timeUs ?? 0) - shift)).toBeLessThanOrEqual(1000));
  });

  it('take a still that is a JPEG', async () => {
    const out = join(take.order.driveFolder, 'still.jpg');
    await runMediaJob({ kind: 'still', filePath: take.result.filePath, outPath: out, atUs: 2e6 });
    expect(readFileSync(out).subarray(0, 3).toString('hex')).toBe('ffd8ff');
    expect(probeStreams(out)[0]).toMatchObject({ codec_name: 'mjpeg', width: 480, height: 270 });
  });

  it('measure a drive with syncing, in bytes a second', async () => {
    const found = driveTestSchema.parse(
      await runMediaJob({ kind: 'drive-test', folder: take.order.driveFolder, mostS: 1.2 }),
    );
    expect(found.bytesPerSecond).toBeGreaterThan(1e6);
    expect(found.trace.length).toBeGreaterThanOrEqual(2);
    expect(readdirSync(take.order.driveFolder).filter((name) => name.includes('write-test'))).toEqual([]);
  });

  // Who is whose child, and what it has open: only Linux tells so simply.
  (process.platform === 'linux' ? it : it.skip)(
    'follow one another in one process, which holds nothing open of what they read and wrote',
    async () => {
      const { filePath } = take.result;
      const beside = (name: string): string => join(take.order.driveFolder, name);
      const { rate } = take.order.recipe;
      const [copy, out] = [beside('after another.mp4'), beside('heard after.mp4')];
      await runMediaJob({ kind: 'facts', filePath });
      const [first] = jobProcesses();
      await runMediaJob({ kind: 'rewrap', filePath, outPath: copy, rate });
      await runMediaJob({ kind: 'same-tracks', filePath, copyPath: copy, rate });
      await runMediaJob({ kind: 'hear', filePath, lane: 1, outPath: out });
      await runMediaJob({ kind: 'still', filePath, outPath: beside('after.jpg'), atUs: 1e6 });
      expect(jobProcesses()).toEqual([first]);
      expect(openFiles(first!).filter((path) => path.startsWith(take.order.driveFolder))).toEqual([]);
      // Two at once are two processes, and one that failed is not used again.
      const both = [copy, filePath].map((path) => runMediaJob({ kind: 'facts', filePath: path }));
      expect((await Promise.allSettled(both)).map(({ status }) => status)).toEqual(['fulfilled', 'fulfilled']);
      const [rested] = jobProcesses();
      await expect(runMediaJob({ kind: 'facts', filePath: beside('none') })).rejects.toThrow('ENOENT');
      expect(jobProcesses()).not.toContain(rested);
      // One that was killed while it rested is missed by nobody.
      await runMediaJob({ kind: 'facts', filePath });
      const [killed] = jobProcesses();
      process.kill(killed!, 'SIGKILL');
      while (jobProcesses().includes(killed!)) await new Promise((resolve) => setTimeout(resolve, 20));
      await runMediaJob({ kind: 'facts', filePath });
      expect(jobProcesses()).toHaveLength(1);
    },
  );

  it('fail with a reason and leave nothing half done', async () => {
    const out = join(take.order.driveFolder, 'never.mp4');
    const broken = join(take.order.driveFolder, 'broken.mkv');
    writeFileSync(broken, 'no film');
    await expect(runMediaJob({ kind: 'hear', filePath: broken, lane: 0, outPath: out })).rejects.toThrow(
      /no recording that can be read/,
    );
    await expect(runMediaJob({ kind: 'facts', filePath: join(take.order.driveFolder, 'none.mkv') })).rejects.toThrow(
      /ENOENT/,
    );
    expect(existsSync(out)).toBe(false);
    expect(readdirSync(take.order.driveFolder).filter((name) => name.includes('part-'))).toEqual([]);
  });
});

describe('rescue', () => {
  /** By whoever knows the file as it was reserved. */
  const rescued = async ({ order, result }: MadeTake, dueHeard: number) =>
    rescueResultSchema.parse(
      await runMediaJob({
        kind: 'rescue',
        ledgerFolder: order.ledgerFolder,
        filePath: result.filePath,
        identity: order.identity,
        fallbackFolder: order.driveFolder,
        dueHeard,
      }),
    );

  /** A take whose recorder died: the file cut anywhere, the ledger's stream cut in the middle of a batch. */
  async function rescueCut(fileShare: number, streamCutBytes: number) {
    const made = await bench.make({ order: { dueFrames: 300 } });
    const { ledgerFolder } = made.order;
    const whole = join(ledgerFolder, 'whole.mkv');
    copyFileSync(made.result.filePath, whole);
    const size = readFileSync(whole).length;
    truncateSync(made.result.filePath, Math.floor(size * fileShare));
    const stream = join(ledgerFolder, ledgerNames.stream);
    truncateSync(stream, readFileSync(stream).length - streamCutBytes);
    rmSync(join(ledgerFolder, ledgerNames.closed));
    const found = await rescued(made, 300);
    return { made, found, columns: readLedgerColumns(ledgerFolder) };
  }

  it.each([0.35, 0.7, 0.95])(
    'keeps what %d of the file holds, closed and playable, and counts the rest as lost',
    async (share) => {
      const { made, found, columns } = await rescueCut(share, 0);
      const pictures = probePictures(found.filePath);
      expect(pictures.length).toBeGreaterThan(300 * share * 0.5);
      expect(columns.length).toBe(pictures.length);
      expect(found.tailFrames).toBe(300 - pictures.length);
      expect(found.facts?.durationUs).toBeGreaterThan(0);
      expect(found.summary.filed).toBe(pictures.length);
      expect(pictures.map((p) => p.bytes)).toEqual(Array.from(made.columns.bytes).slice(0, pictures.length));
    },
  );

  it('that was cut off after its file was in place is found again by whoever knows the first file only', async () => {
    const { made, found } = await rescueCut(0.8, 0);
    expect(found.identity).not.toEqual(made.order.identity);
    const again = await rescued(made, 300);
    expect(again).toMatchObject({ away: false, filePath: found.filePath, identity: found.identity });
    expect(again.facts?.picture.packets).toBe(found.facts?.picture.packets);
    // A file that somebody else has put there since is nobody's of ours.
    rmSync(found.filePath);
    writeFileSync(found.filePath, 'somebody else’s');
    const strange = await rescued(made, 300);
    expect(strange.text).toMatch(/Another file lies at/);
    expect(readFileSync(found.filePath, 'utf8')).toBe('somebody else’s');
  });

  it('leaves nothing where it is ended in the middle, and tells what it was doing', async () => {
    const out = join(take.order.driveFolder, 'ended.mp4');
    const journal = join(take.order.driveFolder, 'ended.ndjson');
    const controller = new AbortController();
    const job = runMediaJob(
      { kind: 'rewrap', filePath: take.result.filePath, outPath: out, rate: take.order.recipe.rate },
      { signal: controller.signal, journal },
    );
    const steps = async (): Promise<void> => {
      while (journalSteps(journal).length < 3) await new Promise((resolve) => setTimeout(resolve, 2));
    };
    await Promise.race([steps(), job]);
    controller.abort(new Error('It was cancelled.'));
    // It may have been quicker.
    const ended = await job.then(
      () => 'done',
      (error: Error) => error.message,
    );
    expect(['done', 'It was cancelled.']).toContain(ended);
    const known = journalSteps(journal);
    expect(known.slice(0, 3).map(({ step }) => step)).toEqual(['reserving', 'reserved', 'temporary']);
    undoJournal(journal);
    expect(readdirSync(take.order.driveFolder).filter((name) => name.includes('.part-'))).toEqual([]);
    expect(existsSync(out)).toBe(ended === 'done');
  });

  it('has an MP4 whose index lies in front, made in one pass', async () => {
    const out = join(take.order.driveFolder, 'front.mp4');
    await runMediaJob({ kind: 'rewrap', filePath: take.result.filePath, outPath: out, rate: take.order.recipe.rate });
    const bytes = readFileSync(out);
    const [index, media] = [bytes.indexOf('moov'), bytes.indexOf('mdat')];
    expect(index).toBeGreaterThan(0);
    expect(index).toBeLessThan(media);
    expect(probePictures(out)).toHaveLength(300);
  });

  it('reads a ledger that was cut in the middle of a batch', async () => {
    const { columns, found } = await rescueCut(0.9, 100);
    expect(columns.length).toBeLessThanOrEqual(300);
    expect(found.summary.due).toBe(columns.length);
  });

  it('says so when nothing can be read, and keeps the bytes', async () => {
    const made = await bench.make({ suffix: 'mp4', recipe: { container: 'mp4' } });
    truncateSync(made.result.filePath, 20_000);
    const found = await rescued(made, 90);
    expect(found.facts).toBeNull();
    expect(found.text).toMatch(/index for the end/);
    expect(readFileSync(made.result.filePath)).toHaveLength(20_000);
  });
});
