import type { Recipe, SoundLevel, Source } from '@mellow/model';
import { forecastOf } from '../forecast';
import { testContext } from '../forecast/testContext.test-support';
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
    seen = null,
    heard = null,
    facts = {},
  }: { free?: number | null; seen?: SeenSource | null; heard?: SoundLevel[] | null; facts?: object } = {},
) => {
  const context = testContext({ facts });
  const recipe = { ...baseRecipe, driveId: context.drives[0]!.id, ...change };
  return new Map(
    readyLines(recipe, context, forecastOf(recipe, context), free, seen, heard).map((line) => [line.id, line]),
  );
};

describe('what is looked at before rolling', () => {
  it('says of room how long it lasts, and whether that is the session of the brief', () => {
    const plenty = linesOf().get('room')!;
    expect([plenty.fine, plenty.found]).toEqual([true, expect.stringMatching(/^1\s000 GB, 3\d\d h$/)]);
    expect(linesOf({}, { free: 1e6 }).get('room')!.fine).toBe(false);
    expect(linesOf({}, { free: null }).get('room')).toMatchObject({ fine: null, found: 'not known' });
  });
  it('says what the file is safe against', () => {
    expect(linesOf({ container: 'matroska' }).get('safe')!.fine).toBe(true);
    expect(linesOf({ container: 'mp4' }).get('safe')).toMatchObject({ fine: false, found: 'MP4, lost in a power cut' });
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
