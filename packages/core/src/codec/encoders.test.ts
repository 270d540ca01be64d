import * as fc from 'fast-check';
import { encoders, recipeSchema } from '@mellow/model';
import { anyRecipe, baseRecipe } from '../recipe/anyRecipe.test-support';
import { codecString, encoderFacts, encoderWords, fileRange, isLossless, levelOf, withEncoder } from './index';

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
  it('keeps the quality number on one scale, and its share of the way on another', () => {
    const at = (quality: number) => ({ ...baseRecipe, encode: { ...baseRecipe.encode, quality } });
    expect(withEncoder(at(20), 'hevc-card').encode.quality).toBe(20);
    expect(withEncoder(at(20), 'av1-software').encode.quality).toBe(25);
    expect(withEncoder(withEncoder(at(20), 'av1-software'), 'avc-software').encode.quality).toBe(20);
  });
});

it('Motion JPEG is full range by its standard (ITU-T T.871), the others as asked', () => {
  expect(fileRange(withEncoder(baseRecipe, 'mjpeg-software'))).toBe('full');
  expect(fileRange(baseRecipe)).toBe('limited');
  expect(fileRange({ ...baseRecipe, encode: { ...baseRecipe.encode, range: 'full' } })).toBe('full');
  expect(isLossless(withEncoder(baseRecipe, 'ffv1-software'))).toBe(true);
  expect(isLossless(baseRecipe)).toBe(false);
});
