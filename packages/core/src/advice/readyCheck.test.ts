import type { Recipe, SoundLevel, Source, Take } from '@mellow/model';
import { forecastOf } from '../forecast';
import { testContext } from '../forecast/testContext.test-support';
import { lossRuns } from '../ledger';
import { testLedger } from '../ledger/testLedger.test-support';
import { verdictOf } from '../verdict';
import { testTake } from '../verdict/testTake.test-support';
import { baseRecipe } from '../recipe/anyRecipe.test-support';
import { readyLines, type SeenSource } from './readyCheck';

const window: Source = {
  ...{ kind: 'window', windowId: 7, title: 'Oil Street', whenClosed: 'end' },
  ...{ leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 720, pointer: true },
};
const linesOf = (
  change: Partial<Recipe> = {},
  {
    free = 1e12,
    tried = null,
    seen = null,
    heard = null,
    facts = {},
  }: {
    free?: number | null;
    tried?: Take | null;
    seen?: SeenSource | null;
    heard?: SoundLevel[] | null;
    facts?: object;
  } = {},
) => {
  const plain = testContext({ facts });
  const context = {
    ...plain,
    drives: plain.drives.map((drive, i) => (i === 0 ? { ...drive, freeBytes: free } : drive)),
  };
  const recipe = { ...baseRecipe, driveId: context.drives[0]!.id, ...change };
  return new Map(
    readyLines(recipe, context, forecastOf(recipe, context), tried, seen, heard).map((line) => [line.id, line]),
  );
};

describe('what is looked at before rolling', () => {
  it('says of room how long it lasts, and whether that is the session of the brief', () => {
    expect(linesOf().get('room')).toMatchObject({ fine: true });
    expect(linesOf({}, { free: 1e6 }).get('room')).toMatchObject({
      fine: false,
      found: '0 min; at least 50 min asked',
    });
    expect(linesOf({}, { free: null }).get('room')).toMatchObject({ fine: null, found: 'not known' });
  });
  it('says what the file is safe against', () => {
    expect(linesOf({ container: 'matroska' }).get('safe')!.fine).toBe(true);
    expect(linesOf({ container: 'mp4' }).get('safe')).toMatchObject({ fine: false });
  });
  it('says the same of a drive that the game uses too as the forecast does', () => {
    const barn = testContext().drives[0]!.id;
    const encode = { ...baseRecipe.encode, rateControl: 'constant-bitrate' as const, bitrateKbps: 300_000 };
    expect(linesOf({ encode }, { facts: { driveId: 'elsewhere' } }).get('speed')!.fine).toBe(true);
    expect(linesOf({ encode }, { facts: { driveId: barn } }).get('speed')!.fine).toBe(false);
  });
  it('says what the last trial of the recipe held, and that there was none, or that it does not count', () => {
    const columns = testLedger(baseRecipe.rate, Array(600).fill('new'));
    const take = testTake(columns, { recipe: baseRecipe });
    const judged = (change: Partial<Take>): Take => {
      const changed = { ...take, ...change };
      return { ...changed, verdict: verdictOf(changed, lossRuns(columns)) };
    };
    const tried = (trial: Take | null) => {
      const { found, fine } = linesOf({}, { tried: trial }).get('tried')!;
      return [found, fine];
    };
    expect(tried(null)).toEqual(['no trial of this recipe yet', null]);
    expect(tried(judged({}))).toEqual(['trial 1 held every limit that it measured', true]);
    expect(
      tried(judged({ likeness: { pictures: 4, ssim: 0.8, worstSecondSsim: 0.8, worstSecond: 0, exact: false } })),
    ).toEqual(['trial 1, beyond its limits: picture and worst second', false]);
    const disturbed = { ...take.summary!, disturbed: true };
    expect(tried(judged({ summary: disturbed }))).toEqual(['trial 1 was disturbed and does not count', null]);
  });
  it('says whether a picture of the screen arrives, and does not know before it has looked', () => {
    const picture = (seen: SeenSource | null) => linesOf({ source: window }, { seen }).get('picture')!;
    expect(picture(null).fine).toBeNull();
    expect(picture({ trouble: null, problem: null }).fine).toBe(true);
    expect(picture({ trouble: 'black', problem: null }).fine).toBe(false);
    // A menu may stand still.
    expect(picture({ trouble: 'frozen', problem: null }).fine).toBeNull();
    expect(picture({ trouble: null, problem: 'The window is closed or hidden.' })).toMatchObject({
      fine: false,
      found: 'The window is closed or hidden.',
    });
  });
  it('says whether the game shows enough, has the file’s shape and leaves its drive alone', () => {
    const fast = linesOf({ rate: { num: 240, den: 1 } }).get('game')!;
    expect(fast.fine).toBe(false);
    expect(
      linesOf({ size: { ...baseRecipe.size, widthPx: 1000, heightPx: 1000, fit: 'bars' } }).get('shape'),
    ).toMatchObject({
      fine: false,
      found: '16:9 into 1:1, bars',
    });
    const own = testContext().drives[0]!.id;
    expect(linesOf({}, { facts: { driveId: own } }).get('drive')).toMatchObject({ fine: false });
    expect(linesOf({}, { facts: { driveId: 'elsewhere' } }).get('drive')).toMatchObject({ fine: true });
    expect(linesOf({ driveId: 'gone' }).get('drive')).toMatchObject({ fine: false, found: 'none chosen' });
  });
  it('says which sounds arrive, which are silent, closed or away, and does not know before it has listened', () => {
    const sound = (id: string, name: string, change: object = {}) => ({
      ...baseRecipe.sounds[0]!,
      id,
      name,
      ...change,
    });
    const outside = { from: { kind: 'program', process: 'comets' } };
    const recipe = (...sounds: object[]): Partial<Recipe> => {
      const all = sounds as Recipe['sounds'];
      return { sounds: all, lanes: [{ ...baseRecipe.lanes[0]!, sources: all.map(({ id }) => id) }] };
    };
    const level = (id: string, state: SoundLevel['state']) =>
      ({ id, state, peakDbfs: null, rmsDbfs: null, loudnessLufs: null, why: null }) as SoundLevel;
    const line = (change: Partial<Recipe>, heard: SoundLevel[] | null = null) => {
      const { found, fine } = linesOf(change, { heard }).get('sound')!;
      return [found, fine];
    };
    const both = recipe(sound('game', 'Game', outside), sound('voice', 'Voice', outside));
    expect(line(both)).toEqual(['not listened to yet', null]);
    expect(line(both, [level('game', 'alive'), level('voice', 'alive')])).toEqual(['Game and Voice', true]);
    expect(line(both, [level('game', 'alive'), level('voice', 'silent')])).toEqual(['Voice: silent', null]);
    expect(line(both, [level('game', 'away'), level('voice', 'silent')])).toEqual(['Game does not come', false]);
    expect(line(both, [level('game', 'away'), level('voice', 'away')])).toEqual(['Game and Voice do not come', false]);
    expect(line(both, [level('game', 'alive'), level('voice', 'opening')])).toEqual(['not listened to yet', null]);
    const closed = recipe(sound('game', 'Game', outside), sound('voice', 'Voice', { ...outside, muted: true }));
    expect(line(closed, [level('game', 'alive')])).toEqual(['Game; closed: Voice', null]);
    expect(line(recipe(sound('game', 'Game', { muted: true })))).toEqual(['all are closed: Game', null]);
    expect(line(recipe(sound('game', 'Game')))).toEqual(['begins with the take', true]);
    expect(line({ lanes: [] })).toEqual(['the recipe keeps none', null]);
    // A sound that is on no lane is not filed, so nobody waits for it.
    expect(
      line({ ...both, lanes: [{ ...baseRecipe.lanes[0]!, sources: ['game'] }] }, [
        level('game', 'alive'),
        level('voice', 'away'),
      ]),
    ).toEqual(['Game', true]);
  });
  it('names what runs beside the game where it takes frames', () => {
    expect(linesOf({}, { facts: { extras: ['another recorder'] } }).get('background')!.fine).toBe(false);
    expect(linesOf({}, { facts: { extras: ['voice chat'] } }).get('background')!.fine).toBe(true);
  });
});
