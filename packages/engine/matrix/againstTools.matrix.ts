import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  av1Level,
  avcLevel,
  cadenceOf,
  encoderFacts,
  hevcLevel,
  laneBits,
  plainPracticeGame,
  soundChannels,
  ssimOfLuma,
} from '@mellow/core';
import { practiceScenes, practiceSounds } from '@mellow/model';
import { addSound, createPicture, practiceScene, soundRateHz, type PracticeSound } from '@mellow/practice';

/** The core's tables and formulas against what reference tools do: FFmpeg's encoders and its fps filter. */

// The slowest of encoders on the slowest of machines.
jest.setTimeout(600_000);

const folder = mkdtempSync(join(tmpdir(), 'mellow-tools-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const run = (command: string, args: string[]): Buffer =>
  execFileSync(command, args, { maxBuffer: 1 << 28, stdio: ['ignore', 'pipe', 'ignore'] });

/** Width, height, frames a second: 22 formats, up to the rates at which decoders have other limits than pictures. */
const formats = [
  [320, 180, 30],
  [640, 360, 30],
  [640, 360, 240],
  [854, 480, 30],
  [854, 480, 60],
  [960, 540, 120],
  [1024, 576, 25],
  [1280, 720, 24],
  [1280, 720, 30],
  [1280, 720, 60],
  [1280, 720, 173],
  [1280, 720, 240],
  [1600, 900, 60],
  [1920, 1080, 30],
  [1920, 1080, 60],
  [1920, 1080, 120],
  [1920, 1080, 240],
  [2560, 1080, 60],
  [2560, 1440, 30],
  [2560, 1440, 60],
  [3840, 2160, 30],
  [3840, 2160, 60],
] as const;
type Format = readonly [widthPx: number, heightPx: number, fps: number];

/** What an encoder itself writes of a format: its level, read by ffprobe, and its configuration record. */
function written(codec: string[], [w, h, fps]: Format, pixels = 'yuv420p'): { level: number; record: Buffer } {
  const file = join(folder, 'level.mp4');
  const source = ['-f', 'lavfi', '-i', `color=c=gray:s=${w}x${h}:r=${fps}`];
  run('ffmpeg', ['-v', 'quiet', '-y', ...source, '-frames:v', '1', '-pix_fmt', pixels, ...codec, file]);
  const told = run('ffprobe', [
    '-v',
    'error',
    '-select_streams',
    'v:0',
    '-show_streams',
    '-show_data',
    file,
  ]).toString();
  const hex = [...told.matchAll(/^[0-9a-f]{8}: ((?:[0-9a-f]{2,4} ?)+?) {2}/gm)].map((m) => m[1]!.replaceAll(' ', ''));
  return { level: Number(/^level=(\d+)/m.exec(told)?.[1]), record: Buffer.from(hex.join(''), 'hex') };
}
const avc = ['-c:v', 'libx264', '-preset', 'superfast'];
const hevc = ['-c:v', 'libx265', '-preset', 'ultrafast', '-x265-params', 'log-level=none'];
const av1 = ['-c:v', 'libsvtav1', '-preset', '12'];
const atRate = (mbps: number): string[] => ['-b:v', `${mbps}M`, '-maxrate', `${mbps}M`, '-bufsize', `${mbps}M`];
const size = ([widthPx, heightPx]: Format) => ({ widthPx, heightPx });
const rate = ([, , fps]: Format) => ({ num: fps, den: 1 });

describe('levels are those the encoders write', () => {
  it.each(formats)('AVC %d×%d at %d', (...format) =>
    expect(written(avc, format).level).toBe(avcLevel(size(format), rate(format))?.code),
  );
  it.each(formats)('HEVC %d×%d at %d', (...format) =>
    expect(written(hevc, format).level).toBe(hevcLevel(size(format), rate(format))?.code),
  );
  it.each(formats)('AV1 %d×%d at %d', (...format) =>
    expect(written(av1, format).level).toBe(av1Level(size(format), rate(format))?.code),
  );
  it.each(
    [15, 17, 18, 25, 26, 60, 63, 70].flatMap((mbps) => [
      [[1280, 720, 30], mbps] as const,
      [[1920, 1080, 60], mbps] as const,
    ]),
  )('AVC High %j at %d Mb/s', (format, mbps) =>
    expect(written([...avc, ...atRate(mbps)], format).level).toBe(
      avcLevel(size(format), rate(format), mbps * 1000)?.code,
    ),
  );
  it.each([15, 40, 60, 80, 150, 300])('AVC in 4:4:4 at %d Mb/s', (mbps) => {
    const format = [1280, 720, 30] as const;
    const level = avcLevel(size(format), rate(format), mbps * 1000, 'high-444');
    expect(written([...avc, ...atRate(mbps)], format, 'yuv444p').level).toBe(level?.code);
  });
  it.each(
    [6, 14, 20, 30, 45, 55, 120].flatMap((mbps) => [
      [[640, 360, 30], mbps] as const,
      [[1280, 720, 60], mbps] as const,
      [[1920, 1080, 60], mbps] as const,
    ]),
  )('HEVC %j at %d Mb/s, tier and level (ISO/IEC 14496-15, 8.3.3.1)', (format, mbps) => {
    const { level, record } = written([...hevc, ...atRate(mbps)], format);
    const expected = hevcLevel(size(format), rate(format), mbps * 1000);
    expect(level).toBe(expected?.code);
    expect(record[1]! & 0x20 ? 'high' : 'main').toBe(expected?.tier);
  });
  it('AV1 in software takes no more than 240 frames a second, and no rate into its level', () => {
    const format = [1280, 720, 60] as const;
    expect(written([...av1, '-b:v', '40M'], format).level).toBe(av1Level(size(format), rate(format))?.code);
    expect(encoderFacts['av1-software'].mostFps).toBe(240);
    expect(() => written(av1, [640, 360, 300])).toThrow();
    expect(written(av1, [640, 360, 240]).level).toBeGreaterThan(0);
  });
});

describe('cadence is that of FFmpeg’s fps filter', () => {
  const rates = [24, 25, 30, 50, 60, 120, 240] as const;
  /** Which source frame each output frame shows, from two grey samples that carry its number. */
  function shownBy(from: number, to: number): number[] {
    const raw = run('ffmpeg', [
      '-v',
      'quiet',
      '-f',
      'lavfi',
      '-i',
      `nullsrc=s=2x2:r=${from}:d=2,format=gray,geq=lum='if(lt(X,1),mod(N,200)+16,floor(N/200)+16)'`,
      '-vf',
      `fps=${to}:round=near`,
      '-fps_mode',
      'passthrough',
      '-pix_fmt',
      'gray',
      '-f',
      'rawvideo',
      '-',
    ]);
    return Array.from({ length: raw.length / 4 }, (_, i) => raw[i * 4]! - 16 + 200 * (raw[i * 4 + 1]! - 16));
  }
  it.each(rates.flatMap((from) => rates.map((to) => [from, to] as const)))('%d shown at %d', (from, to) => {
    const shown = shownBy(from, to);
    const { shows, sourceFrames, outputFrames } = cadenceOf({ num: from, den: 1 }, { num: to, den: 1 });
    // The end of a finite source is the filter's own matter; whole cycles before it must agree.
    const cycles = Math.floor((shown.length - 2) / outputFrames);
    expect(cycles).toBeGreaterThan(0);
    const expected = Array.from(
      { length: cycles * outputFrames },
      (_, n) => shows[n % outputFrames]! + Math.floor(n / outputFrames) * sourceFrames,
    );
    expect(shown.slice(0, expected.length)).toEqual(expected);
  });
});

describe('structural similarity is that of FFmpeg’s filter', () => {
  /** Luma SSIM by the filter, of two grey pictures; it prints six digits. */
  function byFilter(a: Uint8Array, b: Uint8Array, w: number, h: number): number {
    const [first, second] = [join(folder, 'a.gray'), join(folder, 'b.gray')];
    writeFileSync(first, a);
    writeFileSync(second, b);
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${w}x${h}`, '-i'];
    const told = run('ffmpeg', [
      '-v',
      'quiet',
      ...raw,
      first,
      ...raw,
      second,
      '-lavfi',
      'ssim=stats_file=-',
      '-f',
      'null',
      '/dev/null',
    ]);
    return Number(/Y:([\d.]+)/.exec(told.toString())?.[1]);
  }
  it.each(
    practiceScenes.flatMap((scene) =>
      [
        [640, 360],
        [854, 480],
        [322, 182],
      ].map(([w, h]) => [scene, w!, h!] as const),
    ),
  )('%s at %dx%d', (scene, w, h) => {
    const drawn = practiceScene({ ...plainPracticeGame, scene, widthPx: w, heightPx: h });
    const [a, b] = [createPicture(w, h), createPicture(w, h)];
    drawn.draw(a, 300);
    drawn.draw(b, 300);
    // Coarser steps of luma, as a quantiser leaves them, and a picture of a moment later.
    for (let i = 0; i < b.y.length; i++) b.y[i] = Math.round(b.y[i]! / 6) * 6;
    const plane = (luma: Uint8Array) => ({ luma, strideBytes: w, widthPx: w, heightPx: h });
    expect(ssimOfLuma(plane(a.y), plane(b.y))).toBeCloseTo(byFilter(a.y, b.y, w, h), 4);
    drawn.draw(b, 306);
    expect(ssimOfLuma(plane(a.y), plane(b.y))).toBeCloseTo(byFilter(a.y, b.y, w, h), 4);
  });
});

describe('FLAC of the practice games’ sounds needs what is foretold, by FFmpeg’s encoder', () => {
  const seconds = 6;
  const sounds = new Map<PracticeSound, Float32Array>();
  const soundOf = (source: PracticeSound): Float32Array => {
    const known = sounds.get(source) ?? new Float32Array(soundRateHz * seconds * soundChannels);
    if (!sounds.has(source)) addSound(known, source, 0, true);
    sounds.set(source, known);
    return known;
  };
  /** Bits a second that it takes for sources mixed, 16 bit as the lanes are. */
  function byEncoder(sources: readonly PracticeSound[]): number {
    const each = sources.map(soundOf);
    const samples = Int16Array.from(each[0]!, (_, i) => {
      const value = each.reduce((sum, one) => sum + one[i]!, 0);
      return Math.max(-32_768, Math.min(32_767, Math.round(value * 32_767)));
    });
    const [raw, coded] = [join(folder, 'sound.s16'), join(folder, 'sound.flac')];
    writeFileSync(raw, Buffer.from(samples.buffer));
    const input = ['-f', 's16le', '-ar', String(soundRateHz), '-ac', String(soundChannels), '-i', raw];
    run('ffmpeg', ['-v', 'quiet', '-y', ...input, '-c:a', 'flac', coded]);
    return (statSync(coded).size * 8) / seconds;
  }
  it.each<[PracticeSound[]]>([
    [['game']],
    [['voice']],
    [['chat']],
    [['game', 'voice']],
    [['game', 'chat']],
    [['voice', 'chat']],
    [['game', 'voice', 'chat']],
  ])('%j', (sources) => {
    const found = byEncoder(sources);
    const { low, high } = laneBits({ codec: 'flac', sources, bitrateKbps: 0 }, practiceSounds);
    expect(found).toBeGreaterThan(low);
    expect(found).toBeLessThan(high);
  });
});
