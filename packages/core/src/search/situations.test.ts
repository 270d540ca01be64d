import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { situations } from './situations.test-support';
import type { Told } from './tellSituations.test-support';

const plain = (text: string) => text.replaceAll(/[\u2009\u202f\u00a0]/g, ' ');
let told: Map<string, Told>;
beforeAll(() => {
  const script = join(__dirname, 'tellSituations.test-support.ts');
  const { stdout, stderr } = spawnSync(process.execPath, ['--import', 'tsx', script], {
    encoding: 'utf8',
    maxBuffer: 64e6,
  });
  if (!stdout) throw new Error(stderr);
  told = new Map((JSON.parse(stdout) as Told[]).map((one) => [one.name, one]));
});

describe('the first line', () => {
  it('is held against at least 44 situations of different names', () => {
    expect(situations.length).toBeGreaterThanOrEqual(44);
    expect(told.size).toBe(situations.length);
  });
  it.each(situations.map((s) => [s.name, s] as const))('of %s', (name, { about, says }) => {
    const { first, beyond, after } = told.get(name)!;
    expect(first?.id ?? null).toBe(about);
    if (!first) return;
    expect(plain(first.title)).toMatch(says);
    expect(first.text).toMatch(/[.]$/);
    expect(first.text).not.toMatch(/undefined|NaN|null/);
    if (!after) return;
    expect(first.label).toBeTruthy();
    // By the same forecast what it was about holds now, and nothing else is beyond that was not.
    expect(after.firstId).not.toBe(about);
    expect(after.beyond.filter((limit) => !beyond.includes(limit))).toEqual([]);
    expect(after.stops).toEqual([]);
  });
});
