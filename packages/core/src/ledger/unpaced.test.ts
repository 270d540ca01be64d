import { encoders, type SecondRow, type Take } from '@mellow/model';
import { encoderFacts, withEncoder } from '../codec';
import { takeFacts } from '../verdict/facts';
import { verdictOf } from '../verdict';
import { testRecipe, testSecond, testTake } from '../verdict/testTake.test-support';
import { testLedger } from './testLedger.test-support';
import { lossRuns, needsUnpaced, withUnpacedLoad } from './index';

const rate = { num: 60, den: 1 };
const untold: SecondRow = {
  ...testSecond(4),
  load: { ...testSecond(4).load, encode: { meanMs: null, busiestMs: null } },
};
const columns = testLedger(
  rate,
  Array.from({ length: 600 }, (_, n) => (n % 60 === 30 ? ['encode-miss', 'queue-full'] : 'new')),
);
const takeOf = (change: Partial<Take> = {}, second = untold): Take => testTake(columns, change, [second]);

describe('an encoder whose threads tell nothing', () => {
  it('is timed afterwards only where that is so, the take is whole, and it was really made', () => {
    expect(needsUnpaced(takeOf())).toBe(true);
    expect(needsUnpaced(takeOf({}, testSecond(4)))).toBe(false);
    expect(needsUnpaced(takeOf({ state: 'rescued' }))).toBe(false);
    expect(needsUnpaced(takeOf({ facts: null }))).toBe(false);
    expect(needsUnpaced(takeOf({ summary: null }))).toBe(false);
    expect(needsUnpaced(takeOf({ machine: { ...takeOf().machine, origin: 'simulated' } }))).toBe(false);
    expect(needsUnpaced(takeOf({ unpaced: { frames: 120, processorUs: 1, clockUs: 1 } }))).toBe(false);
  });
  it.each(encoders)('%s: software by its processor time over the cores, a block by the clock', (encoder) => {
    const take = takeOf({ recipe: withEncoder(testRecipe, encoder) });
    const { summary, unpaced } = withUnpacedLoad(take, { frames: 120, processorUs: 12_000, clockUs: 9_000 });
    const ms = encoderFacts[encoder].place === 'software' ? 6 : 9;
    expect(summary?.loads.encode).toEqual({ usualMs: ms, busiestMs: ms, budgetMs: expect.closeTo(16.667, 2) });
    expect(unpaced?.frames).toBe(120);
  });
  it('software takes the clock where its processor time is not told', () => {
    const { summary } = withUnpacedLoad(takeOf(), { frames: 90, processorUs: null, clockUs: 9_000 });
    expect(summary?.loads.encode?.usualMs).toBe(9);
  });
  it('decides who is to blame for frames that Encode lost, and stands among the facts', () => {
    const recipe = withEncoder(testRecipe, 'hevc-card');
    const timed = (clockUs: number): Take => {
      const take = takeOf({ recipe });
      return { ...take, ...withUnpacedLoad(take, { frames: 120, processorUs: 900, clockUs }) };
    };
    const finding = (take: Take) => verdictOf(take, lossRuns(columns)).findings[0];
    expect(finding(timed(21_000))).toMatchObject({ id: 'encoder-too-slow', station: 'encode' });
    expect(finding(timed(4_000))).toMatchObject({ id: 'block-kept-waiting', station: 'encode' });
    const fact = takeFacts(timed(21_000)).find(({ name }) => name === 'Encode');
    expect(fact).toMatchObject({ holds: false });
    expect(fact?.found).toContain('120');
    expect(takeFacts(takeOf()).some(({ name }) => name === 'Encode')).toBe(false);
  });
});
