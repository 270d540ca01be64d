import * as fc from 'fast-check';
import { readFrameTimeLog } from './frameTimeLog';

const told = (text: string) => {
  const read = readFrameTimeLog(text);
  return 'problem' in read
    ? read.problem
    : { fps: Math.round(read.run.meanFps * 10) / 10, column: read.column, left: read.left };
};
const column = (heading: string, of: (i: number) => string | number, count = 200): string =>
  [heading, ...Array.from({ length: count }, (_, i) => of(i))].join('\n');

describe('a log of frame times', () => {
  it.each<[string, string, number, string]>([
    ['lengths in a table', column('frame,frame time (ms),load', (i) => `${i},10,0.4`), 100, 'frame time (ms)'],
    ['lengths without a unit', column('n;FrameTime', (i) => `${i};8`), 125, 'FrameTime'],
    ['lengths in seconds', column('interval_s', () => '0.02'), 50, 'interval_s'],
    [
      'moments in microseconds, as the window game writes them',
      column('frame,shownUs', (i) => `${i},${1e9 + i * 16_667}`),
      60,
      'shownUs',
    ],
    ['moments in milliseconds', column('"timestamp"\t"x"', (i) => `${i * 4}\t1`), 250, 'timestamp'],
    ['one column of nothing but numbers', Array(100).fill('5').join('\r\n'), 200, 'milliseconds'],
    ['with remarks and empty lines', `# made today\n\n${column('frametime', () => 20)}\n\n`, 50, 'frametime'],
  ])('%s', (_what, text, fps, name) => {
    expect(told(text)).toEqual({ fps, column: name, left: 0 });
  });
  it('leaves out what is no frame, and says how much', () => {
    const text = column('frame time (ms)', (i) => (i % 50 === 49 ? 'n/a' : i === 10 ? 60_000 : i === 11 ? 0 : 10));
    expect(told(text)).toEqual({ fps: 100, column: 'frame time (ms)', left: 6 });
  });
  it.each([
    ['', /empty/],
    ['colour,taste\nred,sweet', /No column is named as frame time or as time: colour, taste/],
    ['1,2\n3,4', /several columns and no heading/],
    [column('frame time (ms)', () => 10, 59), /holds 59 frame times that can be read; 60 are needed/],
    [column('frame time (ms)', () => 'fast'), /holds 0 frame times/],
  ])('%j says why it tells nothing', (text, words) => {
    expect(told(text)).toEqual(expect.stringMatching(words));
  });
  it('never fails, whatever the file', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => void readFrameTimeLog(text)));
  });
  it('gives the mean of any lengths back', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 100 }), { minLength: 60, maxLength: 300 }), (lengths) => {
        const read = readFrameTimeLog(['frame time (ms)', ...lengths].join('\n'));
        if ('problem' in read) throw new Error(read.problem);
        const mean = lengths.reduce((sum, ms) => sum + ms, 0) / lengths.length;
        expect(read.run.meanFps).toBeCloseTo(1000 / mean, 6);
      }),
    );
  });
});
