import fc from 'fast-check';
import { lossRuns } from '../ledger';
import { testLedger } from '../ledger/testLedger.test-support';
import { verdictOf } from './index';
import { madeLedgers } from './madeLedgers.test-support';
import { cost, type Made } from './madeTake.test-support';
import { testSecond, testTake } from './testTake.test-support';

const rate = { num: 60, den: 1 };
const plain = (text: string) => text.replaceAll(/[\u2009\u202f\u00a0]/g, ' ');
function verdict({ rows, change = {}, lanePeakDbfs }: Pick<Made, 'rows' | 'change' | 'lanePeakDbfs'>) {
  const columns = testLedger(rate, rows);
  const second = { ...testSecond(4), ...(lanePeakDbfs && { lanePeakDbfs }) };
  return verdictOf(testTake(columns, change, [second]), lossRuns(columns));
}

describe('what is said of a take', () => {
  it('is held against at least forty made ledgers of different names', () => {
    expect(madeLedgers.length).toBeGreaterThanOrEqual(40);
    expect(new Set(madeLedgers.map(({ name }) => name)).size).toBe(madeLedgers.length);
  });
  it.each(madeLedgers.map((made) => [made.name, made] as const))('%s', (_, made) => {
    const { mark, sentence } = verdict(made);
    expect(plain(sentence)).toMatch(made.says);
    if (made.never) expect(plain(sentence)).not.toMatch(made.never);
    expect(mark).toBe(made.mark);
  });
  it('the order of what matters decides which of two is said first', () => {
    const both = { likeness: madeLedgers[8]!.change!.likeness!, playCost: cost(120, 72, 0.02) };
    const brief = (matters: ['game' | 'picture', ...('game' | 'safety' | 'picture' | 'small-files')[]]) => ({
      ...madeLedgers.find(({ change }) => change?.brief)!.change!.brief!,
      matters,
    });
    const rows = Array(600).fill('new') as Made['rows'];
    const of = (matters: Parameters<typeof brief>[0]) =>
      plain(verdict({ rows, change: { ...both, brief: brief(matters) } }).sentence);
    expect(of(['game', 'safety', 'picture', 'small-files'])).toMatch(/^Look again\. Recording took 40 %/);
    expect(of(['picture', 'safety', 'game', 'small-files'])).toMatch(/^Look again\. The picture is blocky/);
  });
  it('says "Keep it" beside no limit that is broken, whatever was measured', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 300 }),
        fc.tuple(share, share),
        share,
        fc.option(
          fc.tuple(fc.double({ min: 20, max: 200, noNaN: true }), share, fc.double({ min: 0, max: 0.2, noNaN: true })),
        ),
        fc.shuffledSubarray(['game', 'safety', 'picture', 'small-files'] as const, { minLength: 4 }),
        (lost, [ssim, worst], silent, played, matters) => {
          const rows = [...Array(300 - lost).fill('new'), ...Array(lost).fill(['encode-miss', 'queue-full'])];
          const [without, kept, half] = played ?? [0, 0, 0];
          const brief = { ...madeLedgers.find(({ change }) => change?.brief)!.change!.brief!, matters: [...matters] };
          const { mark, sentence, limits } = verdict({
            rows: rows as Made['rows'],
            change: {
              brief,
              playCost: played ? cost(without, without * Math.max(kept, 0.01), half) : null,
              likeness: { pictures: 4, ssim, worstSecondSsim: Math.min(ssim, worst), worstSecond: 0, exact: false },
            },
            lanePeakDbfs: silent < 0.3 ? [-9, null, -12] : [-9, -9, -12],
          });
          const broken = limits.filter(({ state }) => state === 'broken');
          expect(mark === 'keep' && broken.length > 0).toBe(false);
          expect(mark === 'keep').toBe(sentence.startsWith('Keep it'));
          // What comes first in the list is what the sentence says first.
          if (broken.length && limits[0]?.state === 'broken') expect(sentence).toContain(limits[0].sentence);
          if (limits.some(({ known }) => !known))
            expect(mark !== 'keep' || sentence.includes('not measured')).toBe(true);
        },
      ),
      { numRuns: 5000 },
    );
  });
});
