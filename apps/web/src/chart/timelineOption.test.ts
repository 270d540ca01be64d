import type { Pyramid } from '@mellow/model';
import { oat } from '../theme/tokens';
import { timeLabel, timelineOption } from './timelineOption';

const pyramid: Pyramid = {
  first: 0,
  rowsPerBucket: 2,
  periodUs: 1e6 / 60,
  dueFrames: 8,
  meanMs: [16, 17, null, 16],
  maxMs: [17, 400, null, 17],
  bytes: [2500, 2500, 0, 2500],
  repeats: [0, 0, 0, 0],
  captureMisses: [0, 0, 2, 0],
  encodeMisses: [0, 0, 0, 0],
  writeMisses: [0, 0, 0, 0],
};
interface Line {
  id: string;
  data: [number, number | null][];
}
interface Marks {
  id: string;
  data: { symbol: string }[];
}
const build = () =>
  timelineOption(
    {
      pyramid,
      marks: [{ id: 'a', atUs: 50_000, note: 'the gate' }],
      cuts: [{ why: 'paused', atUs: 80_000, leftOutUs: 12e6 }],
      runs: [
        { atUs: 66_667, due: 4, frames: 2, fate: 'capture-miss', cause: 'picker-late' },
        { atUs: 100_000, due: 6, frames: 1, fate: 'encode-miss', cause: 'queue-full' },
      ],
    },
    oat,
  );
const series = (id: string) => (build()['series'] as Line[]).find((s) => s.id === id)!;

describe('the timeline of a take', () => {
  it('puts each piece in the middle of its time, and leaves a hole where nothing new was filed', () => {
    expect(series('usual').data.map((p) => p[0])).toEqual([1, 3, 5, 7].map((n) => expect.closeTo(n / 60, 6)));
    expect(series('usual').data[2]?.[1]).toBeNull();
  });
  it('draws losses by shape, not by colour alone', () =>
    expect((build()['series'] as Marks[]).find((s) => s.id === 'lost')?.data.map((p) => p.symbol)).toEqual([
      'diamond',
      'triangle',
    ]));
  it('stands a mark over all three with its note, and keeps long notes short', () => {
    const flags = (n: number, note: string) =>
      (
        timelineOption(
          {
            pyramid,
            runs: [],
            cuts: [],
            marks: Array.from({ length: n }, (_, i) => ({ id: `${i}`, atUs: i * 1000, note })),
          },
          oat,
        )['series'] as { markLine?: { data: { xAxis?: number; label?: { show: boolean; formatter: string } }[] } }[]
      )[0]?.markLine?.data.filter(({ xAxis }) => xAxis !== undefined) ?? [];
    expect(flags(2, 'the gate').map(({ xAxis, label }) => [xAxis, label?.show, label?.formatter])).toEqual([
      [0, true, 'the gate'],
      [0.001, true, 'the gate'],
    ]);
    expect(flags(1, 'x'.repeat(60))[0]?.label?.formatter).toHaveLength(24);
    expect(flags(9, 'the gate').every(({ label }) => label?.show === false)).toBe(true);
  });
  it('shows where the take was paused, and for how long', () => {
    const [first] = build()['series'] as { markLine: { data: { xAxis?: number; label?: { formatter: string } }[] } }[];
    const seam = first?.markLine.data.find(({ xAxis }) => xAxis === 0.08);
    expect(seam?.label?.formatter).toBe('paused 0:00:12');
  });
  it('carries the bits: the area of the rate is the size of the pictures', () => {
    const seconds = 2 / 60;
    const bits = series('rate').data.reduce((sum, p) => sum + (p[1] ?? 0) * 1e6 * seconds, 0);
    // The window reaches over the whole of this short take, so each piece shows the mean.
    expect(bits).toBeCloseTo(7500 * 8, 0);
  });
  it('ends the axis of frame times at four budgets, so that a stall does not flatten the rest', () => {
    const axis = (
      build()['yAxis'] as { max: number; axisLabel: { formatter: (v: number) => string; customValues: number[] } }[]
    )[0]!;
    expect(axis.max).toBeCloseTo((4 * 1000) / 60, 3);
    expect(axis.axisLabel.customValues.map(axis.axisLabel.formatter)).toEqual(['16.7 ms', '>67 ms']);
  });
  it('labels short takes in seconds and long ones as h:mm:ss', () => {
    expect(timeLabel(1.5, 10)).toBe('1.5 s');
    expect(timeLabel(3723, 5000)).toBe('1:02:03');
  });
});
