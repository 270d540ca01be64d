import * as fc from 'fast-check';
import { encoders, recipeSchema } from '@mellow/model';
import { anyRecipe, baseRecipe } from '../recipe/anyRecipe.test-support';
import {
  codecString,
  encoderFacts,
  encoderWords,
  fileRange,
  isLossless,
  levelOf,
  typicalSsim,
  withEncoder,
} from './index';

const anyEncoder = fc.constantFrom(...encoders);

describe('the table of encoders', () => {
  it('has a name of its own for each, and something to choose wherever a rail is drawn', () => {
    expect(new Set(encoders.map(encoderWords)).size).toBe(encoders.length);
    for (const encoder of encoders) {
      const facts = encoderFacts[encoder];
      expect(facts.rateControls.length).toBeGreaterThan(0);
      expect(facts.pixels).toContain('4:2:0');
      expect(facts.containers).toContain('matroska');
      expect(facts.meaning).toMatch(/\.$/);
      if (facts.rateControls.includes('constant-quality')) expect(facts.quality).not.toBeNull();
      if (facts.mostBFrames > 0) expect(facts.keyDistance).toBe(true);
      if (facts.ceiling) expect(facts.rateControls).toContain('variable-bitrate');
      if (facts.place !== 'software') expect(facts.threads).toBe(false);
    }
  });
  it('knows which standards have levels and strings, and which have not', () => {
    for (const encoder of encoders) {
      const recipe = withEncoder(baseRecipe, encoder);
      const named = ['AVC', 'HEVC', 'AV1', 'VP9'].includes(encoderFacts[encoder].standard);
      expect(levelOf(recipe) !== null).toBe(named);
      expect(codecString(recipe) !== null).toBe(named);
    }
  });
});

describe('a recipe with another encoder', () => {
  it('has no value that the encoder does not know', () => {
    fc.assert(
      fc.property(anyRecipe, anyEncoder, (recipe, encoder) => {
        const { encode, container } = withEncoder(recipe, encoder);
        const facts = encoderFacts[encoder];
        expect(encode.encoder).toBe(encoder);
        expect(facts.rateControls).toContain(encode.rateControl);
        expect(facts.pixels).toContain(encode.pixels);
        expect(facts.containers).toContain(container);
        expect(encode.bFrames).toBeLessThanOrEqual(facts.mostBFrames);
        if (facts.quality) expect(encode.quality).toBeLessThanOrEqual(facts.quality.worst);
        if (!facts.lowDelay) expect(encode.lowDelay).toBe(false);
      }),
    );
  });
  it('fits the schema, and taking the same encoder again changes nothing', () => {
    fc.assert(
      fc.property(anyRecipe, anyEncoder, (recipe, encoder) => {
        const once = withEncoder(recipe, encoder);
        expect(recipeSchema.safeParse(once).success).toBe(true);
        expect(withEncoder(once, encoder)).toEqual(once);
      }),
    );
  });
  it('leaves everything that is not the encoder’s own as it was', () => {
    fc.assert(
      fc.property(anyRecipe, anyEncoder, (recipe, encoder) => {
        const { rate, size, lanes, driveId, file, ceilingMinutes, rewrap } = withEncoder(recipe, encoder);
        expect({ rate, size, lanes, driveId, file, ceilingMinutes, rewrap }).toEqual({
          rate: recipe.rate,
          size: recipe.size,
          lanes: recipe.lanes,
          driveId: recipe.driveId,
          file: recipe.file,
          ceilingMinutes: recipe.ceilingMinutes,
          rewrap: recipe.rewrap,
        });
      }),
    );
  });
  it('keeps the look: the number is the one that the model gives the same SSIM', () => {
    const at = (quality: number) => ({
      ...baseRecipe,
      encode: { ...baseRecipe.encode, quality, effort: 'light' as const },
    });
    const scene = { motion: 0.5, detail: 0.5, known: false, kind: null };
    const numbered = encoders.filter((encoder) => encoderFacts[encoder].quality);
    expect(numbered.length).toBeGreaterThan(8);
    for (const encoder of numbered)
      for (const quality of [18, 20, 23, 26]) {
        const before = typicalSsim(at(quality), quality, scene);
        const after = withEncoder(at(quality), encoder);
        const ssim = (number: number) => typicalSsim(after, number, scene);
        const found = after.encode.quality;
        // No neighbour of the number is nearer.
        expect(Math.abs(ssim(found) - before)).toBeLessThanOrEqual(
          Math.min(...[found - 1, found + 1].map((next) => Math.abs(ssim(next) - before))) + 1e-4,
        );
      }
  });
  it('never lands on a number that is lossless, nor beyond its scale', () => {
    const at = (quality: number) => ({ ...baseRecipe, encode: { ...baseRecipe.encode, quality } });
    for (const encoder of encoders)
      for (const quality of [0, 4, 51]) {
        const { quality: scale } = encoderFacts[encoder];
        const number = withEncoder(at(quality), encoder).encode.quality;
        if (scale) expect([number >= 1, number <= scale.worst]).toEqual([true, true]);
      }
  });
});

it('Motion JPEG is full range by its standard (ITU-T T.871), the others as asked', () => {
  expect(fileRange(withEncoder(baseRecipe, 'mjpeg-software'))).toBe('full');
  expect(fileRange(baseRecipe)).toBe('limited');
  expect(fileRange({ ...baseRecipe, encode: { ...baseRecipe.encode, range: 'full' } })).toBe('full');
  expect(isLossless(withEncoder(baseRecipe, 'ffv1-software'))).toBe(true);
  expect(isLossless(baseRecipe)).toBe(false);
});
