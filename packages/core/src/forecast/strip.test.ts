import { causeCode, fateCode } from '@mellow/model';
import { heldFrames, outlookOf, simulateStrip, stripPictureOf, forecastOf } from './index';
import { goodRecipe, testContext } from './testContext.test-support';

const context = testContext();
const recipe = goodRecipe(context.game, context.brief);

describe('the strip of the next ten seconds', () => {
  const strip = simulateStrip(recipe, context, forecastOf(recipe, context), 5);
  const picture = stripPictureOf(strip, heldFrames(recipe, 8));
  it('has a bar for each due frame, about as long as the encoder’s work', () => {
    expect(picture.dueFrames).toBe(600);
    expect(picture.periodMs).toBeCloseTo(16.667, 3);
    const bars = picture.encodeMs.filter((ms) => ms > 0);
    const work = strip.run.encodeWorkUs.filter((us) => us > 0);
    expect(bars.length).toBeGreaterThan(550);
    // A block works on one frame at a time: its time is its work.
    const meanOf = (values: ArrayLike<number>) => Array.from(values).reduce((sum, v) => sum + v, 0) / values.length;
    expect(meanOf(bars) / (meanOf(work) / 1000)).toBeGreaterThan(0.97);
    expect(meanOf(bars) / (meanOf(work) / 1000)).toBeLessThan(1.03);
  });
  it('marks runs of one fate once, and counts every frame of them', () => {
    const columns = {
      ...strip.run.columns,
      fate: strip.run.columns.fate.slice().fill(fateCode('new')),
      cause: strip.run.columns.cause.slice().fill(causeCode('none')),
    };
    for (const n of [10, 11, 12, 40]) columns.fate[n] = fateCode('encode-miss');
    columns.fate[13] = fateCode('repeat');
    const marked = stripPictureOf({ ...strip, run: { ...strip.run, columns } }, 0);
    expect(marked.marks.map(({ due, frames, fate }) => [due, frames, fate])).toEqual([
      [10, 3, 'encode-miss'],
      [13, 1, 'repeat'],
      [40, 1, 'encode-miss'],
    ]);
    expect(marked.counts).toEqual({ repeat: 1, 'capture-miss': 0, 'encode-miss': 4, 'write-miss': 0 });
    expect(marked.marks[0]?.waitMs).toBeCloseTo(4 * 16.667, 1);
  });
  it('is one draw that does not flicker: the same recipe gives the same strip, another meets the same game', () => {
    expect(outlookOf(recipe, context, 5, 1).strip.run.columns.fate).toEqual(strip.run.columns.fate);
    const other = outlookOf({ ...recipe, encode: { ...recipe.encode, quality: 30 } }, context, 5, 1);
    expect(other.strip.play.without).toEqual(strip.play.without);
  });
});
