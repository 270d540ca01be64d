import type { Brief, Recipe } from '@mellow/model';
import { encoderFacts } from '../codec/encoders';
import { mp4Trouble } from '../recipe/clashes';
import { exactly, type Quantity } from './judge';

/** Key pictures that an older editor wants, seconds, with what a rounded rate adds (common practice). */
const oldEditorKeysS = 0.55;

/** Standards that editors of plain MP4 are known to open; of AV1 and VP9 in MP4 some do (common practice). */
const opened: readonly string[] = ['AVC', 'HEVC'];

/** Whether the brief's editor opens what a recipe makes: 0 for yes, 1 for no, the range between where only some do. */
export function opensIn({ editor }: Pick<Brief, 'editor'>, recipe: Recipe): Quantity {
  if (editor === 'anything') return exactly(0, 'yes');
  const { encode, container, rewrap, rate } = recipe;
  const { standard, keyDistance } = encoderFacts[encode.encoder];
  const no = (sentence: string): Quantity => exactly(1, 'no', sentence);
  const which = editor === 'old' ? 'An older editor' : 'This editor';
  const trouble = mp4Trouble(recipe);
  if (trouble) return no(`${which} opens MP4 only. ${trouble.text}`);
  if (editor === 'old' && standard !== 'AVC') return no(`An older editor does not open ${standard}.`);
  if (container === 'matroska' && !rewrap) return no(`${which} does not open Matroska, and no MP4 is made of it.`);
  const keysS = (encode.keyDistanceFrames * rate.den) / rate.num;
  if (editor === 'old' && keyDistance && keysS > oldEditorKeysS)
    return no(`An older editor wants a key picture every half second; here one comes every ${keysS.toFixed(1)} s.`);
  if (opened.includes(standard)) return exactly(0, 'yes');
  return { value: 0, low: 0, high: 1, words: 'perhaps', sentence: `Only some editors open ${standard} in MP4.` };
}
