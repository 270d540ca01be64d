import { encoders, type EncoderName, type Station } from '@mellow/model';
import { encoderFacts, hasQualityNumber, perPixel } from '../codec';
import { steadyOverloads, type Overload } from '../forecast';
import { formatSize } from '../units';
import type { Look } from './rule';

/** Questions that several rules ask of a recipe and its machine. */

export const works = ({ machine }: Look, encoder: EncoderName): boolean =>
  machine?.encoders.some((e) => e.encoder === encoder && e.works) ?? false;
export const blocksThatWork = (look: Look): EncoderName[] =>
  encoders.filter((encoder) => encoderFacts[encoder].place !== 'software' && works(look, encoder));
export const isQuality = ({ recipe }: Look): boolean => hasQualityNumber(recipe.encode);
export const isSetRate = ({ recipe }: Look): boolean =>
  recipe.encode.rateControl === 'constant-bitrate' || recipe.encode.rateControl === 'variable-bitrate';
export const setBitsPerPixel = ({ recipe }: Look): number => perPixel(recipe.encode.bitrateKbps * 1000, recipe);
export const keySeconds = ({ recipe, fps }: Look): number => recipe.encode.keyDistanceFrames / fps;

/** Steady overload of a station; null where it keeps up in the mean. */
export const overloadOf = ({ recipe, forecast }: Look, station: Station): Overload | null =>
  steadyOverloads(recipe, forecast).find((overload) => overload.station === station) ?? null;

export const size = (look: Look): string => formatSize(look.recipe.size.widthPx, look.recipe.size.heightPx);
export const played = (look: Look): string => formatSize(look.game.widthPx, look.game.heightPx);
