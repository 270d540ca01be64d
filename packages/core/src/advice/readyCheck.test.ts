import type { Recipe, Source } from '@mellow/model';
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
  { free = 1e12, seen = null, facts = {} }: { free?: number | null; seen?: SeenSource | null; facts?: object } = {},
) => {
  const context = testContext({ facts });
  const recipe = { ...baseRecipe, driveId: context.drives[0]!.id, ...change };
  return new Map(readyLines(recipe, context, forecastOf(recipe, context), free, seen).map((line) => [line.id, line]));
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
  it('names what runs beside the game where it takes frames', () => {
    expect(linesOf({}, { facts: { extras: ['another recorder'] } }).get('background')!.fine).toBe(false);
    expect(linesOf({}, { facts: { extras: ['voice chat'] } }).get('background')!.fine).toBe(true);
  });
});
