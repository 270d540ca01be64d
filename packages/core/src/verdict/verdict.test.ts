import type { Cause, Fate, Take } from '@mellow/model';
import { lossRuns } from '../ledger';
import { testLedger } from '../ledger/testLedger.test-support';
import { compareTrials, verdictOf } from './index';
import { testRecipe, testSecond, testTake } from './testTake.test-support';

const rate = { num: 60, den: 1 };
const plain = (text: string) => text.replaceAll('\u2009', ' ');
const rows = (count: number, ...lost: (Fate | [Fate, Cause])[]): (Fate | [Fate, Cause])[] => [
  ...Array<Fate>(count).fill('new'),
  ...lost,
  'new',
];
const judge = (list: (Fate | [Fate, Cause])[], change: Partial<Take> = {}, seconds = [testSecond(4)]) => {
  const columns = testLedger(rate, list);
  return verdictOf(testTake(columns, change, seconds), lossRuns(columns));
};

describe('the verdict', () => {
  it('keeps a take without losses and says how many frames it has', () => {
    const verdict = judge(rows(599));
    expect(verdict.mark).toBe('keep');
    expect(verdict.sentence).toBe('Keep it. All 600 frames are in the file, each with a new picture.');
    expect(verdict.findings).toEqual([]);
    expect(verdict.facts.every((fact) => fact.holds !== false)).toBe(true);
  });
  it('charges each loss to its station, most first', () => {
    const verdict = judge(
      rows(
        590,
        ...Array<[Fate, Cause]>(6).fill(['encode-miss', 'queue-full']),
        ...Array<[Fate, Cause]>(3).fill(['capture-miss', 'picker-late']),
      ),
    );
    expect(verdict.mark).toBe('look');
    expect(verdict.sentence).toBe('Look again. Of 600 frames 9 were lost: 6 at Encode and 3 at Capture.');
  });
  it('tells an encoder that is too slow from a processor taken by others', () => {
    const lost = rows(590, ...Array<[Fate, Cause]>(9).fill(['encode-miss', 'queue-full']));
    const slow = judge(lost, {}, [testSecond(19)]).findings[0];
    expect(slow?.id).toBe('encoder-too-slow');
    expect(slow?.text).toContain('19.0 ms of 16.7 ms');
    const taken = judge(lost, {}, [testSecond(5)]).findings[0];
    expect(taken?.id).toBe('processor-taken');
    expect(taken?.text).toContain('30 % of the time');
  });
  it('says how much was rescued and how much is lost', () => {
    const verdict = judge(rows(239), {
      state: 'rescued',
      end: 'engine-died',
      tailFrames: 36,
      endText: 'The recorder died while rolling (SIGKILL).',
    });
    expect(verdict.mark).toBe('rescued');
    expect(verdict.sentence).toBe('Rescued: 4.00 s can be played, the last 0.60 s are lost.');
    expect(verdict.findings[0]?.title).toBe('The last 0.60 s are lost');
  });
  it('has a sentence for a take of which nothing can be read', () => {
    const verdict = judge(rows(10), {
      facts: null,
      state: 'failed',
      endText: 'No whole second had reached the drive yet.',
    });
    expect(verdict).toMatchObject({
      mark: 'failed',
      sentence: 'No whole second had reached the drive yet.',
      facts: [],
    });
  });
  it.each<[string, Parameters<typeof judge>, string]>([
    ['a slow game', [rows(500, ...Array<[Fate, Cause]>(99).fill(['repeat', 'slow']))], 'game-slow'],
    ['a stalled game', [rows(500, ...Array<[Fate, Cause]>(20).fill(['repeat', 'stalled']))], 'game-stalled'],
    ['game and file beating', [rows(500, ...Array<[Fate, Cause]>(30).fill(['repeat', 'phase']))], 'phase'],
    ['a slow drive', [rows(500, ...Array<[Fate, Cause]>(9).fill(['write-miss', 'drive-slow']))], 'drive'],
    ['a slow scaler', [rows(500, ['capture-miss', 'size-late'])], 'size-late'],
    ['a grab without a source', [rows(500, ['capture-miss', 'no-source'])], 'capture'],
    ['packets that never arrived', [rows(500, ['write-miss', 'not-found'])], 'not-found'],
    ['other programs', [rows(500), {}, [testSecond(4, 0.5)]], 'disturbed'],
    ['a file type that is lost in a crash', [rows(500), { recipe: { ...testRecipe, container: 'mp4' } }], 'unsafe'],
    ['a lane that clips', [rows(500), {}, [{ ...testSecond(4), lanePeakDbfs: [0, -9, -9] }]], 'clipped-0'],
  ])('finds %s', (_, given, id) => expect(judge(...given).findings.map((f) => f.id)).toContain(id));

  it('says so when the file is shorter than its losses explain', () => {
    const columns = testLedger(rate, rows(599));
    const take = testTake(columns);
    const facts = take.facts!;
    const short = verdictOf({ ...take, facts: { ...facts, picture: { ...facts.picture, endUs: 9.5e6 } } }, []);
    expect(short.facts.filter((f) => f.holds === false).map((f) => f.name)).toEqual(['Length']);
  });
  it('holds facts read back against what was asked', () => {
    const columns = testLedger(rate, rows(59));
    const take = testTake(columns);
    const facts = take.facts!;
    const verdict = verdictOf(
      {
        ...take,
        facts: {
          ...facts,
          picture: { ...facts.picture, widthPx: 640, heightPx: 360, range: 'pc' },
          lanes: facts.lanes.slice(1),
        },
      },
      [],
    );
    const failing = verdict.facts.filter((f) => f.holds === false).map((f) => f.name);
    expect(failing).toEqual(['Picture', 'Colour', 'Sound']);
    expect(plain(verdict.facts[1]?.found ?? '')).toBe('640×360, 60 fps');
  });
});

describe('two trials', () => {
  const columns = testLedger(rate, rows(599));
  const trial = (number: number, bytes: number, quality = 20): Take => {
    const take = testTake(columns, { recipe: { ...testRecipe, encode: { ...testRecipe.encode, quality } } });
    return { ...take, id: `t${number}`, number, facts: { ...take.facts!, bytes } };
  };
  it('cannot be compared before one was repeated', () => {
    expect(compareTrials(trial(1, 3e6), trial(2, 2e6, 22), [trial(1, 3e6), trial(2, 2e6, 22)]).verdict).toBe('unknown');
  });
  it('are equal within the spread of repeats, and differ beyond it', () => {
    const all = [trial(1, 3e6), trial(2, 3.1e6), trial(3, 3.05e6, 21), trial(4, 2e6, 24)];
    expect(compareTrials(all[0]!, all[2]!, all).verdict).toBe('equal');
    const differ = compareTrials(all[0]!, all[3]!, all);
    expect(differ.verdict).toBe('differ');
    expect(plain(differ.text)).toBe('size −800 kb/s');
  });
});
