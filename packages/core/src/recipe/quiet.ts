import type { PracticeGame, Recipe } from '@mellow/model';
import { encoderFacts, hasQualityNumber, isLossless } from '../codec';
import { nothingToScale } from '../picture';
import { settingFacts, type SettingKey } from './settings';
import { rateControlWords } from './words';

/** Why a setting has no effect at present, and what would give it one; null where it has one. */
export function quietReason(key: SettingKey, recipe: Recipe, game: PracticeGame): string | null {
  const { encode, size } = recipe;
  const facts = encoderFacts[encode.encoder];
  switch (key) {
    case 'filter':
      return nothingToScale(game, size)
        ? `nothing is scaled; it works at another size than ${game.widthPx}×${game.heightPx}`
        : null;
    case 'fit':
      return Math.abs(size.widthPx / size.heightPx / (game.widthPx / game.heightPx) - 1) < 0.002
        ? 'file and game have one shape; it works at another'
        : null;
    case 'effort':
      return facts.efforts.length ? null : `${facts.standard} has one effort only`;
    case 'quality':
      return hasQualityNumber(encode) ? null : `works with ${rateControlWords['constant-quality']}`;
    case 'bitrate':
      return encode.rateControl === 'constant-bitrate' || encode.rateControl === 'variable-bitrate'
        ? null
        : 'works with constant or variable bitrate';
    case 'ceiling':
      return encode.rateControl !== 'variable-bitrate'
        ? 'works with variable bitrate'
        : facts.ceiling
          ? null
          : `${facts.standard} in software keeps to its mean, without a ceiling`;
    case 'keyDistance':
      return facts.keyDistance ? null : `every picture of ${facts.standard} stands by itself`;
    case 'groups':
      return groupsQuiet(recipe);
    case 'bFrames':
      return facts.mostBFrames ? null : `${facts.standard} here has none`;
    case 'lowDelay':
      return facts.lowDelay ? null : 'this encoder has no such mode';
    case 'profile':
      return !facts.profiles
        ? 'AVC in software lets it be chosen'
        : settingFacts.profile.counts?.(recipe) === false
          ? 'lossless and other colours have a profile of their own'
          : encode.pixels !== '4:2:0'
            ? 'ten bits and other colours have a profile of their own'
            : null;
    case 'threads':
      return facts.threads ? null : 'a block has no threads';
    case 'range':
      if (encode.pixels === 'rgb') return 'red, green and blue are full range by custom';
      return encode.encoder === 'mjpeg-software' ? 'Motion JPEG is full range by its standard' : null;
    case 'matrix':
      if (encode.pixels === 'rgb') return 'red, green and blue have none';
      return encode.encoder === 'mjpeg-software' ? 'Motion JPEG is Rec. 601 by its standard' : null;
    case 'lookAhead':
      return lookAheadQuiet(recipe);
    case 'eyeTuning':
      if (isLossless(recipe)) return 'nothing is left out of a lossless file';
      return facts.eyeTuning ? null : 'this encoder cannot be told';
    case 'easyDecode':
      return facts.easyDecode ? null : 'this encoder has no such mode';
    case 'card':
      return facts.cards ? null : 'works where a graphics card encodes';
    case 'priority':
      return facts.place === 'software' ? null : 'a block does not share the processor with the game';
    case 'rewrap':
      return recipe.container === 'mp4' ? 'the file is a plain MP4 already' : null;
    default:
      return null;
  }
}

/** Why the encoder looks at no later picture, however many it is allowed. */
export function lookAheadQuiet({ encode }: Pick<Recipe, 'encode'>): string | null {
  const facts = encoderFacts[encode.encoder];
  if (!facts.mostLookAhead)
    return facts.keyDistance ? 'this encoder cannot be told' : 'it takes each picture by itself';
  if (encode.lowDelay) return 'low delay waits for no picture';
  const lightAvc = encode.encoder === 'avc-software' && encode.effort === 'lightest' && encode.bFrames === 0;
  const bound = encode.rateControl === 'constant-bitrate' || encode.rateControl === 'variable-bitrate';
  return lightAvc && !bound ? 'the lightest effort decides without it; it works from the next one on' : null;
}

/** Why closed and open groups come to the same. */
function groupsQuiet({ encode }: Recipe): string | null {
  const facts = encoderFacts[encode.encoder];
  if (!facts.keyDistance) return `every picture of ${facts.standard} stands by itself`;
  if (encode.encoder === 'av1-software' || encode.encoder === 'vp9-software')
    return `${facts.standard} in software closes every group`;
  const reorders = encode.bFrames > 0 && !encode.lowDelay;
  return facts.place === 'software' && !reorders ? 'groups are open only with B-frames' : null;
}
