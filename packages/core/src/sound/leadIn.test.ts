import { execFileSync } from 'node:child_process';
import { dueUs } from '../units';
import { leadInMarkAt, leadInMarkIn, leadInMarksUs, waveFile } from './index';

describe('the line-up mark', () => {
  it('sounds at -12 dBFS for 100 ms from each mark on, at full height on its first sample', () => {
    for (const us of leadInMarksUs) {
      const start = (us * 48_000) / 1e6;
      expect(leadInMarkAt(start - 1)).toBe(0);
      expect(leadInMarkAt(start)).toBeCloseTo(10 ** (-12 / 20), 6);
      expect(leadInMarkAt(start + 48)).toBeCloseTo(10 ** (-12 / 20), 6);
      expect(leadInMarkAt(start + 4799)).not.toBe(0);
      expect(leadInMarkAt(start + 4800)).toBe(0);
    }
    expect(leadInMarkAt(0)).toBe(0);
    expect(leadInMarkAt(4 * 48_000)).toBe(0);
  });
  it.each([24, 25, 30, 50, 60, 120, 144, 240])(
    'shows at %d fps from the picture on that is nearest to its sound, each figure once',
    (fps) => {
      const rate = { num: fps, den: 1 };
      const shown = Array.from({ length: fps * 5 }, (_, n) => leadInMarkIn(dueUs(rate, n), dueUs(rate, n + 1)));
      leadInMarksUs.forEach((us, i) => {
        const first = shown.indexOf(3 - i);
        expect(Math.abs(dueUs(rate, first) - us)).toBeLessThanOrEqual(500_000 / fps + 1);
        const length = shown.filter((mark) => mark === 3 - i).length;
        // 100 ms of pictures, or one at the least.
        expect(Math.abs(length - fps / 10)).toBeLessThanOrEqual(1);
        expect(shown.slice(first, first + length).every((mark) => mark === 3 - i)).toBe(true);
      });
      expect(shown.slice(0, fps - 1).every((mark) => mark === null)).toBe(true);
    },
  );
});

it('a WAVE file is one: 44 bytes of head, as `file` formats in RIFF say, and the samples as they were', () => {
  const samples = Int16Array.of(1, -1, 32_767, -32_768);
  const file = Buffer.from(waveFile(samples));
  expect(file.toString('latin1', 0, 4)).toBe('RIFF');
  expect(file.readUInt32LE(4)).toBe(file.length - 8);
  expect(file.readUInt16LE(22)).toBe(2);
  expect(file.readUInt32LE(24)).toBe(48_000);
  expect(file.readUInt32LE(40)).toBe(8);
  // FFmpeg reads it as what it is.
  const read = execFileSync('ffmpeg', ['-v', 'error', '-i', '-', '-f', 's16le', '-'], { input: file });
  expect([...new Int16Array(read.buffer.slice(read.byteOffset, read.byteOffset + read.length))]).toEqual([...samples]);
});
