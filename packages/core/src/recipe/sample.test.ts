import type { MediaFacts, Source } from '@mellow/model';
import * as fc from 'fast-check';
import { passesThrough } from '../forecast';
import { anyRecipe, baseRecipe } from './anyRecipe.test-support';
import { plainPracticeGame, recipeClashes, sampledGame, sampleOf, sampleRecipe } from './index';

const display: Source = {
  ...{ kind: 'display', name: 'DP-1', pointer: true },
  ...{ leftPx: 0, topPx: 0, widthPx: 2561, heightPx: 1441 },
};
const facts = (picture: Partial<MediaFacts['picture']> = {}): MediaFacts => ({
  ...{ bytes: 1e6, formatName: 'matroska', durationUs: 10e6, lanes: [] },
  picture: {
    ...{ codec: 'h264', profile: 'High', level: 40, widthPx: 1920, heightPx: 1080, pixelFormat: 'yuv420p' },
    ...{ range: 'tv', matrix: 'bt709', primaries: 'bt709', transfer: 'bt709', rate: { num: 60, den: 1 } },
    ...{ packets: 600, keys: 5, pictureBytes: 9e5, firstUs: 0, endUs: 10e6 },
    ...picture,
  },
});

describe('how a sample is recorded', () => {
  it('is without loss, sound, camera or a clash, at the source’s own size, whatever the recipe', () =>
    fc.assert(
      fc.property(anyRecipe, (recipe) => {
        const sample = sampleRecipe(recipe, plainPracticeGame);
        expect(sample.encode.rateControl).toBe('lossless');
        expect([sample.lanes, sample.camera, sample.leadIn]).toEqual([[], null, 'none']);
        expect(sample.size).toMatchObject({ widthPx: plainPracticeGame.widthPx, heightPx: plainPracticeGame.heightPx });
        expect(recipeClashes(sample).filter(({ weight }) => weight === 'stops')).toEqual([]);
        // Nothing is changed of what the practice game draws.
        expect(passesThrough(plainPracticeGame, sample)).toBe(true);
        // Every frame that the recipe asks for lies on one of the sample's.
        const times = (sample.rate.num * recipe.rate.den) / (sample.rate.den * recipe.rate.num);
        expect([1, 2, 4]).toContain(times);
        expect(sample.rate.num / sample.rate.den).toBeGreaterThanOrEqual(48);
      }),
    ));
  it('of the screen keeps red, green and blue of every pixel, odd sides too', () => {
    const sample = sampleRecipe({ ...baseRecipe, source: display }, plainPracticeGame);
    expect(sample.size).toMatchObject({ widthPx: 2561, heightPx: 1441 });
    expect(sample.encode.pixels).toBe('rgb');
    expect(recipeClashes(sample).filter(({ id }) => id === 'odd-size')).toEqual([]);
  });
});

describe('a file as a sample', () => {
  it('is described by what was read of it', () =>
    expect(sampleOf(facts(), '/films/one.mkv', 'one.mkv')).toEqual({
      ...{ kind: 'sample', path: '/films/one.mkv', name: 'one.mkv', widthPx: 1920, heightPx: 1080 },
      ...{ pixels: 'yuv420p', rate: { num: 60, den: 1 }, frames: 600, lengthUs: 10e6 },
    }));
  it.each(['gbrp', 'bgr24', 'rgb24', 'bgr0', '0rgb', 'bgra', 'gbrp10le'])(
    'in %s is handed on as red, green and blue',
    (pixelFormat) => expect(sampleOf(facts({ pixelFormat }), '/a', 'a')).toMatchObject({ pixels: 'bgr0' }),
  );
  it.each(['yuv420p', 'yuvj420p', 'nv12', 'yuv420p10le', 'yuv444p', 'gray'])(
    'in %s as light and colour',
    (pixelFormat) => expect(sampleOf(facts({ pixelFormat }), '/a', 'a')).toMatchObject({ pixels: 'yuv420p' }),
  );
  it('that tells no rate gets its mean', () =>
    expect(sampleOf(facts({ rate: null, packets: 250 }), '/a', 'a')).toMatchObject({
      rate: { num: 25_000, den: 1000 },
    }));
  it('begins where its first picture does', () =>
    expect(sampleOf(facts({ firstUs: 2e6, endUs: 10e6 }), '/a', 'a')).toMatchObject({ lengthUs: 8e6 }));
  it.each([
    [{ packets: 1 }, 'no moving picture'],
    [{ firstUs: null }, 'no moving picture'],
    [{ endUs: 0 }, 'no moving picture'],
    [{ widthPx: 32 }, '32×1080'],
    [{ heightPx: 5000 }, '1920×5000'],
    [{ rate: null, packets: 2, endUs: 100e6 }, '0.02 pictures a second'],
  ])('%o cannot be one, in words', (picture, words) =>
    expect(sampleOf(facts(picture), '/a', 'a')).toEqual(expect.stringContaining(words)),
  );
  it('stands for a game of its size that is no faster than it', () => {
    const sample = sampleOf(facts({ widthPx: 7681 - 1, heightPx: 99, rate: { num: 5, den: 1 } }), '/a', 'a');
    if (typeof sample === 'string') throw new Error(sample);
    // Within what a game of one's own may be: 320x180 to 7680x4320, 10 to 500 fps.
    expect(sampledGame(plainPracticeGame, sample)).toMatchObject({
      kind: 'own',
      widthPx: 7680,
      heightPx: 180,
      capFps: 10,
      title: plainPracticeGame.title,
    });
  });
});
