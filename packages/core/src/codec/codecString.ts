import type { Recipe } from '@mellow/model';
import { asFiled } from '../picture/camera';
import { encoderFacts, hasQualityNumber } from './encoders';
import {
  av1Level,
  avcLevel,
  hevcLevel,
  hevcNoLevel,
  type AvcRateClass,
  type Level,
  type LevelOf,
  type TieredLevel,
} from './levels';
import { vp9Level } from './vp9Levels';

/** Rate that a level must allow: the set one, none for a quality number. */
const setKbps = ({ encode }: Recipe): number =>
  encode.rateControl === 'constant-bitrate'
    ? encode.bitrateKbps
    : encode.rateControl === 'variable-bitrate'
      ? encode.ceilingKbps
      : 0;

/**
 * The level a recipe's file will carry, or the one that the standard asks for; null where the standard has none or the format is
 * above all of them.
 */
export function levelOf(recipe: Recipe, of: LevelOf = 'written'): (Level & Partial<TieredLevel>) | null {
  const { size, rate, encode } = asFiled(recipe);
  const { standard, place } = encoderFacts[encode.encoder];
  if (standard === 'AVC') return avcLevel(size, rate, setKbps(recipe), avcProfile(recipe).rateClass, of);
  // What is lossless keeps within no level, and the software encoder says so.
  const outsideAll = encode.rateControl === 'lossless' && place === 'software' && of === 'written';
  if (standard === 'HEVC') return outsideAll ? hevcNoLevel : hevcLevel(size, rate, setKbps(recipe), of);
  if (standard === 'VP9') return vp9Level(size, rate, of === 'written' ? 0 : setKbps(recipe));
  // AV1 in software names its level by the picture alone, whatever rate is set.
  const kbps = place === 'software' && of === 'written' ? 0 : setKbps(recipe);
  return standard === 'AV1' ? av1Level(size, rate, kbps, of) : null;
}

/** The AVC profile in use: the lightest effort draws on nothing that High allows beyond Baseline, B-frames excepted. */
export function avcProfile({ encode }: Recipe): {
  name: string;
  idc: number;
  constraints: number;
  rateClass: AvcRateClass;
} {
  // A number of 0 is lossless to this encoder, but where a quality rules 10 bits: its scale begins 12 steps lower there (from memory).
  const zero = encode.quality === 0 && hasQualityNumber(encode);
  const lowerScale = encode.pixels === '4:2:0-10' && encode.rateControl === 'constant-quality';
  const exact = encode.rateControl === 'lossless' || (zero && !lowerScale);
  if (encode.pixels === '4:2:0-10' && !exact)
    return { name: 'High 10', idc: 110, constraints: 0, rateClass: 'high-10' };
  if (exact || encode.pixels !== '4:2:0')
    return { name: 'High 4:4:4 Predictive', idc: 244, constraints: 0, rateClass: 'high-444' };
  const software = encode.encoder === 'avc-software';
  if (encode.profile === 'baseline' || (software && encode.effort === 'lightest' && encode.bFrames === 0))
    return { name: 'Constrained Baseline', idc: 66, constraints: 0xc0, rateClass: 'main' };
  if (encode.profile === 'main' || (software && encode.effort === 'lightest'))
    return { name: 'Main', idc: 77, constraints: 0x40, rateClass: 'main' };
  return { name: 'High', idc: 100, constraints: 0, rateClass: 'high' };
}

/** Profile and compatible profiles, Main and Main 10 (ITU-T H.265, Annex A; ISO/IEC 14496-15, Annex E). */
const hevcProfileWords: Partial<Record<Recipe['encode']['pixels'], string>> = { '4:2:0': '1.6', '4:2:0-10': '2.4' };

/** VP9 profiles: 0 and 1 have 8 bits, 2 and 3 more; 0 and 2 are 4:2:0 (VP9 bitstream specification, 7.2). */
const vp9Profiles: Record<Recipe['encode']['pixels'], string> = {
  '4:2:0': '00',
  '4:2:0-10': '02',
  '4:4:4': '01',
  rgb: '01',
};

const hex = (n: number): string => n.toString(16).padStart(2, '0').toUpperCase();

/**
 * The codec string of a recipe's picture track: RFC 6381 with ISO/IEC 14496-15 for AVC (`avc1.` profile, constraints, level)
 * and HEVC (`hvc1.` profile, compatibility, tier and level, constraints), AV1-ISOBMFF for AV1, the VP9 project's own for VP9. Null for
 * other codecs.
 */
export function codecString(recipe: Recipe): string | null {
  const { standard } = encoderFacts[recipe.encode.encoder];
  const level = levelOf(recipe);
  if (!level) return null;
  if (standard === 'AVC') {
    const profile = avcProfile(recipe);
    return `avc1.${hex(profile.idc)}${hex(profile.constraints)}${hex(level.code)}`;
  }
  if (standard === 'HEVC')
    return hevcProfileWords[recipe.encode.pixels]
      ? `hvc1.${hevcProfileWords[recipe.encode.pixels]}.${level.tier === 'high' ? 'H' : 'L'}${level.code}.90`
      : null;
  const bits = recipe.encode.pixels === '4:2:0-10' ? '10' : '08';
  if (standard === 'AV1')
    return `av01.0.${String(level.code).padStart(2, '0')}${level.tier === 'high' ? 'H' : 'M'}.${bits}`;
  if (standard === 'VP9') return `vp09.${vp9Profiles[recipe.encode.pixels]}.${level.code}.${bits}`;
  return null;
}
