import * as fc from 'fast-check';
import { recipeSchema, type Recipe } from '@mellow/model';
import { anyRecipe, baseRecipe as base } from './anyRecipe.test-support';
import { plainPracticeGame, recipeClashes, recipeDifferences, sameRecipe, startRecipe } from './index';

describe('starting recipes', () => {
  it.each(['long-play', 'short-film', 'slow-motion', 'lesson', 'master', 'light'] as const)(
    '%s fits the schema and has no clash',
    (purpose) => {
      const recipe = startRecipe(
        { purpose, sessionMinutes: 30 },
        { ...plainPracticeGame, widthPx: 1920, heightPx: 1080 },
        'd',
      );
      expect(recipeSchema.safeParse(recipe).success).toBe(true);
      expect(recipeClashes(recipe)).toEqual([]);
    },
  );
});

describe('clashes', () => {
  const clash = (change: Partial<Recipe>) => recipeClashes({ ...base, ...change }).map((c) => c.id);
  it('fire where they should and are quiet beside it', () => {
    expect(clash({})).toEqual([]);
    expect(clash({ container: 'mp4', lanes: [{ ...base.lanes[0]!, codec: 'pcm' }] })).toEqual([
      'sound-in-container',
      'unsafe-mp4',
    ]);
    expect(clash({ container: 'fragmented-mp4', lanes: [{ ...base.lanes[0]!, codec: 'flac' }] })).toEqual([]);
    expect(clash({ encode: { ...base.encode, bFrames: 2, lowDelay: true } })).toEqual(['b-frames-low-delay']);
    expect(clash({ encode: { ...base.encode, bFrames: 2 } })).toEqual([]);
    const open = { ...base.encode, bFrames: 2, closedGroups: false };
    expect(clash({ encode: open, parts: { by: 'length', minutes: 10 } })).toEqual(['parts-open-groups']);
    expect(clash({ encode: open, nextDriveIds: ['other'] })).toEqual(['parts-open-groups']);
    expect(clash({ encode: open })).toEqual([]);
    expect(clash({ encode: { ...open, closedGroups: true }, parts: { by: 'size', megabytes: 4000 } })).toEqual([]);
    expect(clash({ encode: { ...open, bFrames: 0 }, parts: { by: 'size', megabytes: 4000 } })).toEqual([]);
    expect(clash({ size: { ...base.size, widthPx: 1279 } })).toEqual(['odd-size']);
    expect(clash({ encode: { ...base.encode, rateControl: 'variable-bitrate', ceilingKbps: 5000 } })).toEqual([
      'ceiling-below-mean',
    ]);
  });
  it('applying every remedy in turn ends without clashes, and no remedy brings an earlier one back', () => {
    fc.assert(
      fc.property(anyRecipe, (recipe) => {
        let current = recipe;
        const seen = new Set<string>();
        for (let next = recipeClashes(current)[0]; next; next = recipeClashes(current)[0]) {
          expect(seen.has(next.id)).toBe(false);
          seen.add(next.id);
          current = next.remedy.recipe;
          expect(recipeSchema.safeParse(current).success).toBe(true);
        }
        expect(recipeClashes(current)).toEqual([]);
      }),
    );
  });
});

describe('differences in words', () => {
  it('tells what changed along the path', () => {
    expect(recipeDifferences(base, { ...base, encode: { ...base.encode, quality: 18, effort: 'middle' } })).toEqual([
      'effort lightest to middle',
      'quality 20 to 18',
    ]);
    expect(recipeDifferences(base, { ...base, rate: { num: 30, den: 1 } })).toEqual(['frame rate 60 fps to 30 fps']);
    expect(recipeDifferences(base, base)).toEqual([]);
  });
  it('is empty exactly when nothing in effect changed', () => {
    fc.assert(
      fc.property(
        anyRecipe,
        (recipe) =>
          sameRecipe(recipe, structuredClone(recipe)) &&
          recipeDifferences(recipe, structuredClone(recipe)).length === 0,
      ),
    );
  });
});
