import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import * as fc from 'fast-check';
import { sampleOf } from '@mellow/core';
import { runMediaJob } from '@mellow/engine';
import { mediaFactsSchema, type MediaJobInput } from '@mellow/model';
import { openTakeBench, type TakeBench } from './support/drivenTake';
import { play } from './support/samplePlay';

/**
 * Media files with damage of every kind, through all that reads files of others: facts, a sample that is played, a still, copies,
 * comparing. Each is read or refused in words; no process dies of it, none hangs. FUZZ_MEDIA says how many, npm run fuzz reads 1 000.
 */
const files = Number(process.env['FUZZ_MEDIA'] ?? 12);
const seed = Number(process.env['FUZZ_SEED'] ?? 20_261_126);
/** A damaged file of this size is done within seconds; a reader that loops is not. */
const patienceMs = 30_000;

let bench: TakeBench;
let wholes: { name: string; bytes: Buffer }[];
beforeAll(async () => {
  bench = await openTakeBench();
  const made = ['a.mkv', 'b.mp4', 'c.mov', 'd.webm', 'e.mkv', 'f.avi', 'g.wav'];
  const sources = {
    picture: 'testsrc2=s=320x180:r=30:d=1',
    sound: 'sine=frequency=440:duration=1:sample_rate=48000',
  };
  const encoders: Record<string, string[]> = {
    'a.mkv': ['-c:v', 'libx264', '-preset', 'ultrafast', '-bf', '2', '-c:a', 'flac'],
    'b.mp4': ['-c:v', 'libx265', '-preset', 'ultrafast', '-x265-params', 'log-level=none', '-c:a', 'aac'],
    'c.mov': ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p', '-c:a', 'pcm_s16le'],
    'd.webm': ['-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '8', '-c:a', 'libopus'],
    'e.mkv': ['-c:v', 'ffv1', '-c:a', 'pcm_s24le'],
    'f.avi': ['-c:v', 'utvideo', '-c:a', 'pcm_s16le'],
    'g.wav': ['-vn'],
  };
  wholes = made.map((name) => {
    const path = join(bench.folder, name);
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', sources.picture, '-f', 'lavfi', '-i', sources.sound],
      ...['-shortest', ...encoders[name]!, path],
    ]);
    return { name, bytes: readFileSync(path) };
  });
}, 120_000);
afterAll(() => bench.close());

type Harm = 'flip' | 'ones' | 'cut' | 'insert' | 'repeat';
interface Damage {
  file: number;
  /** Places in millionths of the file; heads and indices, where most is decided, come as often as all the rest. */
  harms: { harm: Harm; at: number; bytes: number; value: number }[];
}
const anyDamage: fc.Arbitrary<Damage> = fc.record({
  file: fc.nat(6),
  harms: fc.array(
    fc.record({
      harm: fc.constantFrom<Harm>('flip', 'flip', 'flip', 'ones', 'ones', 'repeat', 'insert', 'cut'),
      at: fc.oneof(fc.nat(1e6), fc.nat(2e4)),
      bytes: fc.integer({ min: 1, max: 200 }),
      value: fc.integer({ min: 0, max: 255 }),
    }),
    { minLength: 1, maxLength: 4, size: 'max' },
  ),
});

function damaged({ file, harms }: Damage): { name: string; bytes: Buffer } {
  const { name, bytes: whole } = wholes[file]!;
  let bytes = Buffer.from(whole);
  for (const { harm, at, bytes: many, value } of harms) {
    const begin = Math.floor((at / 1e6) * (bytes.length - 1));
    if (harm === 'flip') bytes[begin] = (bytes[begin] ?? 0) ^ (value || 1);
    else if (harm === 'ones') bytes.fill(0xff, begin, Math.min(bytes.length, begin + many));
    else if (harm === 'cut') bytes = bytes.subarray(0, Math.max(1, begin));
    else {
      const between = harm === 'insert' ? Buffer.alloc(many, value) : bytes.subarray(begin, begin + many);
      bytes = Buffer.concat([bytes.subarray(0, begin), between, bytes.subarray(begin)]);
    }
  }
  return { name, bytes };
}

/** The answer of a job, or its refusal; a process that died or hung is neither. */
async function asked(job: MediaJobInput): Promise<unknown> {
  try {
    return await runMediaJob(job, { silentMs: patienceMs, stallMs: patienceMs });
  } catch (error) {
    const text = (error as Error).message;
    if (text === '' || /process ended|gave no sign|made no progress|is not a function|undefined/.test(text))
      throw new Error(`${job.kind}: ${text || 'no word'}`, { cause: error });
    return null;
  }
}

it(`${files} damaged files are read or refused in words, and nothing dies of them`, async () => {
  const rate = { num: 30, den: 1 };
  let n = 0;
  let read = 0;
  await fc.assert(
    fc.asyncProperty(anyDamage, async (damage) => {
      const { name, bytes } = damaged(damage);
      const filePath = join(bench.folder, `harmed-${n++}-${name}`);
      writeFileSync(filePath, bytes);
      const out = (suffix: string): string => join(bench.folder, `out-${n}.${suffix}`);
      const whole = join(bench.folder, name);
      await asked({ kind: 'facts', filePath });
      const facts = mediaFactsSchema.nullable().parse(await asked({ kind: 'sample-facts', filePath }));
      await asked({ kind: 'still', filePath, outPath: out('jpg'), atUs: 5e5 });
      await asked({ kind: 'hear', filePath, lane: 0, outPath: out('mkv'), rate });
      await asked({ kind: 'rewrap', filePath, outPath: out('mp4'), rate, asIs: false });
      await asked({ kind: 'same-tracks', filePath: whole, copyPath: filePath, rate });
      const sample = facts && sampleOf(facts, filePath, 'harmed');
      if (!sample || typeof sample === 'string') return;
      read++;
      // The recorder itself plays it: whatever the file does, a take comes out, and the recorder lives.
      const take = await play(bench, sample, 0.5, { size: { widthPx: 320, heightPx: 180 } });
      if (!take.result.closedWell) throw new Error(`the take was not closed: ${take.result.endText}`);
    }),
    { numRuns: files, seed, endOnFailure: true },
  );
  expect(n).toBe(files);
  expect(read).toBeGreaterThan(files / 8);
}, 7_200_000);
