import { efforts, practiceScenes, type EncoderName, type Recipe } from '@mellow/model';
import { plainPracticeGame, startRecipe } from '../recipe';
import { effortBits, effortOffsets, offsetQualities } from './effortOffsets';
import { curveBits, encoderFacts, withEncoder } from './index';

const standards = ['avc-software', 'hevc-software', 'av1-software'] as const;

describe('what an effort makes of the size', () => {
  it('is nothing at the effort it is counted from', () => {
    for (const standard of standards)
      for (const kind of practiceScenes)
        for (const quality of [8, 20, 33, 60]) expect(effortBits(standard, 'light', kind, quality)).toBe(0);
  });
  it('is the table’s at its two numbers, the mean half way, and the same beyond them', () => {
    for (const standard of standards)
      for (const effort of efforts)
        for (const kind of practiceScenes) {
          const [from, to] = offsetQualities[standard];
          const [lower, upper] = effortOffsets[standard][effort].bits[kind];
          const at = (quality: number) => effortBits(standard, effort, kind, quality);
          expect(at(from)).toBeCloseTo(lower, 12);
          expect(at(to)).toBeCloseTo(upper, 12);
          expect(at((from + to) / 2)).toBeCloseTo((lower + upper) / 2, 12);
          expect(at(from - 15)).toBe(at(from));
          expect(at(to + 20)).toBeCloseTo(at(to), 12);
        }
  });
});

describe('the curve with all its parts', () => {
  const recipeOf = (encoder: EncoderName, part: Partial<Recipe['encode']>): Recipe => {
    const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
    const base = withEncoder(start, encoder);
    return { ...base, encode: { ...base.encode, ...part } };
  };
  // An offset that grows with the number must never turn the curve round: a step to a smaller file has to make one.
  it('falls with each step of quality, at every effort of every encoder, for every kind of scene', () => {
    for (const encoder of [...standards, 'avc-card', 'hevc-card', 'av1-card'] as const)
      for (const effort of encoderFacts[encoder].efforts)
        for (const kind of [...practiceScenes, null]) {
          const scene = { motion: 0.5, detail: 0.5, known: true, kind };
          const bitsAt = (quality: number) => curveBits(recipeOf(encoder, { effort, quality }), quality, scene);
          for (let quality = 10; quality < 50; quality++)
            expect([encoder, effort, kind, quality, bitsAt(quality + 1) < bitsAt(quality)]).toEqual([
              encoder,
              effort,
              kind,
              quality,
              true,
            ]);
        }
  });
  it('needs more bits in all for a larger picture, whatever a pixel takes', () => {
    for (const encoder of standards)
      for (const kind of practiceScenes) {
        const scene = { motion: 0.5, detail: 0.5, known: true, kind };
        const lines = [360, 720, 1080, 2160];
        const bitsOf = (heightPx: number): number => {
          const recipe = recipeOf(encoder, {});
          const size = { ...recipe.size, widthPx: (heightPx * 16) / 9, heightPx };
          return curveBits({ ...recipe, size }, 26, scene) + Math.log2((heightPx * heightPx * 16) / 9);
        };
        for (const [i, larger] of lines.slice(1).entries()) expect(bitsOf(larger)).toBeGreaterThan(bitsOf(lines[i]!));
      }
  });
});
