import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { situations } from './situations.test-support';
import type { Wrong } from './tellRandom.test-support';
import type { Told } from './tellSituations.test-support';

const plain = (text: string) => text.replaceAll(/[\u2009\u202f\u00a0]/g, ' ');
/** What a script beside this prints: a process by itself, as a test's sandbox runs the simulation ten times slower. */
function printed<T>(script: string): T {
  const { stdout, stderr } = spawnSync(process.execPath, ['--import', 'tsx', join(__dirname, script)], {
    encoding: 'utf8',
    maxBuffer: 64e6,
  });
  if (!stdout) throw new Error(stderr);
  return JSON.parse(stdout) as T;
}
let told: Map<string, Told>;
beforeAll(() => {
  told = new Map(printed<Told[]>('tellSituations.test-support.ts').map((one) => [one.name, one]));
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

it('of random recipes is never that nothing has to change beside a broken limit, and mends what it says', () => {
  expect(printed<Wrong[]>('tellRandom.test-support.ts').map(({ what }) => what)).toEqual([]);
});
