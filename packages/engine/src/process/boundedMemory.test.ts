import { createLiveCounter } from './liveCounter';
import { countingLog } from './repeatedLines';
import { createEvenSamples } from './samples';
import { createRepeatCauses } from '../threads/repeatCauses';
import { createWrittenRows } from '../threads/writtenRows';

describe('what a take keeps in memory does not grow with its length', () => {
  it('the last minute, over a day of seconds', () => {
    const counter = createLiveCounter();
    for (let second = 0; second < 86_400; second++) counter.count(1, 0, second);
    const { fates, lastMinute } = counter.snapshot();
    expect(lastMinute).toHaveLength(60);
    expect(fates.new).toBe(86_400);
  });
  it('samples stay at most 256 and spread over all that came', () => {
    const samples = createEvenSamples();
    for (let i = 0; i < 1_000_000; i++) samples.add(i);
    const values = samples.values();
    expect(values.length).toBeLessThanOrEqual(256);
    expect(values.length).toBeGreaterThan(100);
    expect(values.at(-1)).toBeGreaterThan(900_000);
  });
  it('equal lines are counted, not repeated', () => {
    const lines: string[] = [];
    const log = countingLog((_level, text) => void lines.push(text));
    for (let i = 0; i < 100_000; i++) log.log('error', 'A frame could not be encoded.');
    log.flush();
    expect(lines.length).toBeLessThan(10);
    expect(lines.at(-1)).toBe('A frame could not be encoded. (100000 times so far)');
  });
});

describe('a picture that stands still', () => {
  it('holds no row for longer than a quarter of a second, over a minute', () => {
    const given = new Map<number, string>();
    const causes = createRepeatCauses(16_667, false, (n, cause) => void given.set(n, cause));
    let longest = 0;
    for (let n = 1; n <= 3600; n++) {
      const dueUs = n * 16_667;
      causes.resolve(dueUs, () => null);
      longest = Math.max(longest, n - 1 - given.size);
      causes.add({ n, dueUs, presentUs: 0, serial: 0 });
    }
    expect(longest).toBeLessThanOrEqual(15);
    expect(given.get(100)).toBe('stalled');
    causes.finish(3601 * 16_667);
    expect(given.size).toBe(3600);
  });
  it('tells beat, slowness and stall apart once the next frame is there', () => {
    const given: string[] = [];
    const causes = createRepeatCauses(16_667, false, (_n, cause) => void given.push(cause));
    causes.add({ n: 1, dueUs: 16_667, presentUs: 1000, serial: 0 });
    causes.resolve(20_000, () => 17_000);
    causes.add({ n: 2, dueUs: 33_333, presentUs: 1000, serial: 1 });
    causes.resolve(90_000, () => 80_000);
    causes.add({ n: 3, dueUs: 50_000, presentUs: 1000, serial: 2 });
    causes.resolve(400_000, () => 390_000);
    expect(given).toEqual(['phase', 'slow', 'stalled']);
  });
});

describe('rows on their way to the drive', () => {
  it('are written when the drive has reached what the container handed out after them', () => {
    const rows = createWrittenRows();
    const written: number[] = [];
    const take = (reached: number) => rows.take(reached, (n) => void written.push(n));
    rows.add(0, 100, 1);
    rows.add(1, 100, 1);
    take(1000);
    expect(written).toEqual([]);
    rows.add(2, 500, 1);
    take(400);
    expect(written).toEqual([]);
    take(500);
    expect(written).toEqual([0, 1]);
    rows.allAt(700);
    take(700);
    expect(written).toEqual([0, 1, 2]);
  });
});
