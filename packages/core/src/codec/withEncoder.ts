import type { EncoderName, Recipe } from '@mellow/model';
import { encoderFacts } from './encoders';
import { equalQuality } from './pictureQuality';

/** Number 0 is lossless in some encoders: nobody who changes the standard means that. */
const leastTranslated = 1;

/** The number of another encoder's scale that looks the same by the model; where one of them has none, the number as it stands. */
function sameLook(quality: number, from: EncoderName, to: EncoderName): number {
  const worst = encoderFacts[to].quality?.worst ?? 63;
  if (!encoderFacts[from].quality || !encoderFacts[to].quality) return Math.min(quality, worst);
  const best = Math.max(leastTranslated, encoderFacts[to].quality.best);
  return Math.max(best, Math.min(worst, Math.round(equalQuality(quality, from, to))));
}

/** The recipe with another encoder, and every value that it does not know put to the nearest that it does. */
export function withEncoder(recipe: Recipe, encoder: EncoderName): Recipe {
  const facts = encoderFacts[encoder];
  const { encode } = recipe;
  const rateControl = facts.rateControls.includes(encode.rateControl)
    ? encode.rateControl
    : (facts.rateControls[0] ?? 'lossless');
  return {
    ...recipe,
    encode: {
      ...encode,
      encoder,
      rateControl,
      quality: sameLook(encode.quality, encode.encoder, encoder),
      pixels: facts.pixels.includes(encode.pixels) ? encode.pixels : '4:2:0',
      bFrames: Math.min(encode.bFrames, facts.mostBFrames),
      lowDelay: encode.lowDelay && facts.lowDelay,
      easyDecode: encode.easyDecode && facts.easyDecode,
      lookAheadFrames:
        encode.lookAheadFrames === null || !facts.mostLookAhead
          ? null
          : Math.min(encode.lookAheadFrames, facts.mostLookAhead),
      eyeTuning: facts.eyeTuning ? encode.eyeTuning : 'own',
      card: facts.cards ? encode.card : null,
    },
    container: facts.containers.includes(recipe.container) ? recipe.container : (facts.containers[0] ?? 'matroska'),
  };
}
