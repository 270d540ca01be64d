import { encoderFacts, plainPracticeGame, startRecipe, withEncoder, errorText } from '@mellow/core';
import { efforts, encoders, eyeTunings, profiles, type EncoderName, type Recipe } from '@mellow/model';
import { Codec, CodecContext } from 'node-av/lib';
import { nativeEncoders } from '../../src/native/encoderNames';
import { encoderOptions } from '../../src/encode/encoderOptions';
import { setOptions } from '../../src/native/setOptions';

/**
 * Sets every option that a recipe would send to each encoder that the media libraries know, card or none, and tells which were
 * refused. Runs in a process of its own, since the test runner does not load native modules of this kind. Output: JSON.
 */
const start = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd');

export function refusal(native: string, recipe: Recipe): string | null {
  const codec = Codec.findEncoderByName(native as never);
  if (!codec) return 'not in the libraries';
  const context = new CodecContext();
  context.allocContext3(codec);
  try {
    setOptions(context, encoderOptions(recipe, native));
    return null;
  } catch (error) {
    return errorText(error);
  } finally {
    context.freeContext();
  }
}

function* recipesOf(encoder: EncoderName): Generator<Recipe> {
  const facts = encoderFacts[encoder];
  const base = withEncoder(start, encoder);
  for (const effort of facts.efforts.length ? facts.efforts : efforts.slice(0, 1))
    for (const rateControl of facts.rateControls)
      for (const profile of profiles)
        for (const quality of facts.quality ? [facts.quality.best, 20, facts.quality.worst] : [0])
          for (const lowDelay of facts.lowDelay ? [false, true] : [false])
            yield { ...base, encode: { ...base.encode, effort, rateControl, profile, quality, lowDelay } };
  // What is seldom chosen: each value of each once.
  const more = (part: Partial<Recipe['encode']>): Recipe => ({ ...base, encode: { ...base.encode, ...part } });
  for (const effort of facts.efforts)
    for (const lookAheadFrames of facts.mostLookAhead ? [0, 1, 10, facts.mostLookAhead] : [])
      for (const bFrames of [0, facts.mostBFrames]) yield more({ effort, lookAheadFrames, bFrames });
  for (const eyeTuning of facts.eyeTuning ? eyeTunings : []) yield more({ eyeTuning });
  if (facts.easyDecode) yield more({ easyDecode: true });
  if (facts.cards) yield more({ card: 1 });
  for (const pixels of facts.pixels) yield more({ pixels });
}

const looked: { native: string; recipes: number; refused: string[]; said: string[] }[] = [];
for (const encoder of encoders)
  for (const native of nativeEncoders[encoder].candidates) {
    if (!Codec.findEncoderByName(native)) continue;
    const refused: string[] = [];
    const said: string[] = [];
    let recipes = 0;
    for (const recipe of recipesOf(encoder)) {
      recipes++;
      const { effort, rateControl, profile, quality } = recipe.encode;
      const why = refusal(native, recipe);
      // Said in words, before anything is sent.
      if (why?.includes('cannot be told')) said.push(why);
      else if (why) refused.push(`${[effort, rateControl, profile, quality].join(' ')}: ${why}`);
    }
    looked.push({ native, recipes, refused, said });
  }
const beyond = withEncoder(start, 'hevc-card');
const wrong: Recipe = { ...beyond, encode: { ...beyond.encode, rateControl: 'constant-quantiser', quality: 63 } };
console.log(JSON.stringify({ looked, beyondScale: refusal('hevc_nvenc', wrong) }));
