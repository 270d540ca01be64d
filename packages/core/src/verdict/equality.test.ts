import type { Take } from '@mellow/model';
import { testLedger } from '../ledger/testLedger.test-support';
import { normalStream } from '../path';
import { compareTrials } from './index';
import { testRecipe, testTake } from './testTake.test-support';

const columns = testLedger({ num: 60, den: 1 }, Array(600).fill('new'));
const plain = (text: string) => text.replaceAll('\u2009', ' ');
const blank = testTake(columns);

interface Figures {
  bytes: number;
  encodeMs?: number;
  playCost?: number;
}

/** A trial of a recipe that is told by its quality number, with figures of its own. */
function trial(number: number, quality: number, { bytes, encodeMs = 5, playCost }: Figures): Take {
  const run = (fps: number) => ({
    seconds: 10,
    frames: 1200,
    meanFps: fps,
    onePercentLowFps: fps,
    slowestMs: [],
    blocks: [],
    turnBlocks: [],
  });
  const load = { ...blank.summary!.loads.encode!, usualMs: encodeMs };
  return {
    ...blank,
    id: `t${number}`,
    number,
    recipe: { ...testRecipe, encode: { ...testRecipe.encode, quality } },
    facts: { ...blank.facts!, bytes },
    summary: { ...blank.summary!, loads: { ...blank.summary!.loads, encode: load } },
    playCost:
      playCost === undefined ? null : { without: run(120), with: run(120 * (1 - playCost)), pairs: 2, interval: null },
  };
}

describe('two trials', () => {
  const first = trial(1, 20, { bytes: 3e6 });
  const other = trial(2, 24, { bytes: 2e6 });
  it('say how many repeats are missing before they can be compared', () => {
    expect(compareTrials(first, other, [first, other])).toEqual({
      verdict: 'unknown',
      text: '2 repeats of one trial are missing to tell a difference from chance.',
    });
    const repeated = [first, trial(3, 20, { bytes: 3.05e6 }), other];
    expect(compareTrials(first, other, repeated).text).toBe(
      '1 repeat of one trial is missing to tell a difference from chance.',
    );
  });
  it('differ beyond what repeats do, with the change and its interval, and are equal within it', () => {
    const all = [
      first,
      trial(3, 20, { bytes: 3.05e6 }),
      trial(4, 20, { bytes: 2.97e6 }),
      other,
      trial(5, 21, { bytes: 2.99e6 }),
    ];
    const differ = compareTrials(first, other, all);
    expect(differ.verdict).toBe('differ');
    // ln(2) - mean of ln(3, 3.05, 2.97): a third less.
    expect(plain(differ.text)).toMatch(/^size −33 % \(±\d+\)$/);
    expect(compareTrials(first, all[4]!, all).verdict).toBe('equal');
  });
  it('of one recipe are a repeat, whatever they show', () => {
    const repeats = [3e6, 3.4e6, 2.6e6].map((bytes, i) => trial(i + 1, 20, { bytes }));
    expect(compareTrials(repeats[0]!, repeats[1]!, repeats)).toEqual({
      verdict: 'equal',
      text: 'A repeat: what differs here is chance.',
    });
  });
  it('do not differ by the last digit of repeats that happen to be equal', () => {
    const all = [1, 2, 3].map((n) => trial(n, 20, { bytes: 3e6 }));
    const near = trial(4, 21, { bytes: 3.004e6 });
    expect(compareTrials(all[0]!, near, [...all, near]).verdict).toBe('equal');
  });
  it('on another machine or of an interrupted take tell nothing of the spread', () => {
    const elsewhere = { ...trial(3, 20, { bytes: 3.1e6 }), machine: { ...first.machine, name: 'Kestrel' } };
    const broken = { ...trial(4, 20, { bytes: 1e6 }), state: 'rescued' as const };
    expect(compareTrials(first, other, [first, other, elsewhere, broken]).verdict).toBe('unknown');
  });
  it('without figures compare to nothing', () => {
    expect(compareTrials({ ...first, facts: null }, other, [first, other]).text).toBe('');
  });
});

describe('truly equal recipes', () => {
  /** Share of 1 500 seeded setups in which two equal recipes are called different; sizes vary by 4 %, loads by 6 %, play cost by 1 point. */
  function calledDifferent(repeatsOfFirst: number, repeatsOfSecond: number, seed: number): number {
    const normal = normalStream(seed);
    const setups = 1500;
    let different = 0;
    for (let s = 0; s < setups; s++) {
      const drawn = (n: number, quality: number): Take =>
        trial(n, quality, {
          bytes: 3e6 * Math.exp(0.04 * normal()),
          encodeMs: 5 * Math.exp(0.06 * normal()),
          playCost: 0.05 + 0.01 * normal(),
        });
      const a = Array.from({ length: repeatsOfFirst }, (_, i) => drawn(i, 20));
      const b = Array.from({ length: repeatsOfSecond }, (_, i) => drawn(i + 20, 24));
      if (compareTrials(a[0]!, b[0]!, [...a, ...b]).verdict === 'differ') different++;
    }
    return different / setups;
  }
  // Nothing is lost in any of them, so three of the four figures vary.
  it.each([
    [3, 1],
    [3, 3],
    [2, 2],
    [6, 4],
  ])('are called different in 3 to 7 %% of setups with %d and %d trials', (first, second) => {
    const share = calledDifferent(first, second, 1000 * first + second);
    expect(share).toBeGreaterThan(0.03);
    expect(share).toBeLessThan(0.07);
  });
});
