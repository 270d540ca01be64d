import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { av1Level, avcLevel, cadenceOf, hevcLevel, plainPracticeGame, ssimOfLuma } from '@mellow/core';
import { practiceScenes } from '@mellow/model';
import { createPicture, practiceScene } from '@mellow/practice';

/** The core's tables and formulas against what reference tools do: FFmpeg's encoders and its fps filter. */

const folder = mkdtempSync(join(tmpdir(), 'mellow-tools-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const run = (command: string, args: string[]): Buffer =>
  execFileSync(command, args, { maxBuffer: 1 << 28, stdio: ['ignore', 'pipe', 'ignore'] });

const formats = [
  [640, 360, 30],
  [854, 480, 30],
  [1280, 720, 30],
  [1280, 720, 60],
  [1920, 1080, 30],
  [1920, 1080, 60],
  [1920, 1080, 120],
  [2560, 1440, 30],
  [2560, 1440, 60],
  [3840, 2160, 30],
  [3840, 2160, 60],
] as const;

/** The level an encoder itself writes for a format, read by ffprobe. */
function chosenLevel(codec: string[], [w, h, fps]: readonly [number, number, number]): number {
  const file = join(folder, `${codec[1]}-${w}-${fps}.mp4`);
  run('ffmpeg', [
    '-v',
    'quiet',
    '-y',
    '-f',
    'lavfi',
    '-i',
    `color=c=gray:s=${w}x${h}:r=${fps}`,
    '-frames:v',
    '1',
    '-pix_fmt',
    'yuv420p',
    ...codec,
    file,
  ]);
  return Number(
    run('ffprobe', ['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'stream=level', '-of', 'csv=p=0', file])
      .toString()
      .trim(),
  );
}

describe('levels are those the encoders choose', () => {
  it.each(formats)('AVC %d×%d at %d', (w, h, fps) =>
    expect(chosenLevel(['-c:v', 'libx264', '-preset', 'ultrafast'], [w, h, fps])).toBe(
      avcLevel({ widthPx: w, heightPx: h }, { num: fps, den: 1 })?.code,
    ),
  );
  it.each(formats)('HEVC %d×%d at %d', (w, h, fps) =>
    expect(
      chosenLevel(['-c:v', 'libx265', '-preset', 'ultrafast', '-x265-params', 'log-level=none'], [w, h, fps]),
    ).toBe(hevcLevel({ widthPx: w, heightPx: h }, { num: fps, den: 1 })?.code),
  );
  it.each(formats)('AV1 %d×%d at %d', (w, h, fps) =>
    expect(chosenLevel(['-c:v', 'libsvtav1', '-preset', '12'], [w, h, fps])).toBe(
      av1Level({ widthPx: w, heightPx: h }, { num: fps, den: 1 })?.code,
    ),
  );
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
