import type { FrameRate } from '@mellow/model';
import { framesPerSecond } from '../units';
import type { SizePx } from '../picture/shape';

/** A level of a coding standard: what a decoder of that level must be able to take. */
export interface Level {
  name: string;
  /** The number that streams carry. */
  code: number;
}

/** HEVC and AV1 have two tiers: High takes more bits a second at the same picture, from level 4 on. */
export interface TieredLevel extends Level {
  tier: 'main' | 'high';
}

/** ITU-T H.264, Table A-1: macroblocks a second, macroblocks a picture, kb/s and buffer in kbit (Baseline, Main). */
const avcLevels: readonly (Level & { maxMbps: number; maxFs: number; maxKbps: number; maxBufferKbit: number })[] = [
  { name: '1', code: 10, maxMbps: 1485, maxFs: 99, maxKbps: 64, maxBufferKbit: 175 },
  { name: '1.1', code: 11, maxMbps: 3000, maxFs: 396, maxKbps: 192, maxBufferKbit: 500 },
  { name: '1.2', code: 12, maxMbps: 6000, maxFs: 396, maxKbps: 384, maxBufferKbit: 1000 },
  { name: '1.3', code: 13, maxMbps: 11_880, maxFs: 396, maxKbps: 768, maxBufferKbit: 2000 },
  { name: '2', code: 20, maxMbps: 11_880, maxFs: 396, maxKbps: 2000, maxBufferKbit: 2000 },
  { name: '2.1', code: 21, maxMbps: 19_800, maxFs: 792, maxKbps: 4000, maxBufferKbit: 4000 },
  { name: '2.2', code: 22, maxMbps: 20_250, maxFs: 1620, maxKbps: 4000, maxBufferKbit: 4000 },
  { name: '3', code: 30, maxMbps: 40_500, maxFs: 1620, maxKbps: 10_000, maxBufferKbit: 10_000 },
  { name: '3.1', code: 31, maxMbps: 108_000, maxFs: 3600, maxKbps: 14_000, maxBufferKbit: 14_000 },
  { name: '3.2', code: 32, maxMbps: 216_000, maxFs: 5120, maxKbps: 20_000, maxBufferKbit: 20_000 },
  { name: '4', code: 40, maxMbps: 245_760, maxFs: 8192, maxKbps: 20_000, maxBufferKbit: 25_000 },
  { name: '4.1', code: 41, maxMbps: 245_760, maxFs: 8192, maxKbps: 50_000, maxBufferKbit: 62_500 },
  { name: '4.2', code: 42, maxMbps: 522_240, maxFs: 8704, maxKbps: 50_000, maxBufferKbit: 62_500 },
  { name: '5', code: 50, maxMbps: 589_824, maxFs: 22_080, maxKbps: 135_000, maxBufferKbit: 135_000 },
  { name: '5.1', code: 51, maxMbps: 983_040, maxFs: 36_864, maxKbps: 240_000, maxBufferKbit: 240_000 },
  { name: '5.2', code: 52, maxMbps: 2_073_600, maxFs: 36_864, maxKbps: 240_000, maxBufferKbit: 240_000 },
  { name: '6', code: 60, maxMbps: 4_177_920, maxFs: 139_264, maxKbps: 240_000, maxBufferKbit: 240_000 },
  { name: '6.1', code: 61, maxMbps: 8_355_840, maxFs: 139_264, maxKbps: 480_000, maxBufferKbit: 480_000 },
  { name: '6.2', code: 62, maxMbps: 16_711_680, maxFs: 139_264, maxKbps: 800_000, maxBufferKbit: 800_000 },
];

/** ITU-T H.265, Tables A.8 and A.9: luma samples a picture and a second, kb/s of the main and the high tier; the code is 30 x the level. */
const hevcLevels: readonly (Level & { maxLumaPs: number; maxLumaSr: number; maxKbps: number; highKbps?: number })[] = [
  { name: '1', code: 30, maxLumaPs: 36_864, maxLumaSr: 552_960, maxKbps: 128 },
  { name: '2', code: 60, maxLumaPs: 122_880, maxLumaSr: 3_686_400, maxKbps: 1500 },
  { name: '2.1', code: 63, maxLumaPs: 245_760, maxLumaSr: 7_372_800, maxKbps: 3000 },
  { name: '3', code: 90, maxLumaPs: 552_960, maxLumaSr: 16_588_800, maxKbps: 6000 },
  { name: '3.1', code: 93, maxLumaPs: 983_040, maxLumaSr: 33_177_600, maxKbps: 10_000 },
  { name: '4', code: 120, maxLumaPs: 2_228_224, maxLumaSr: 66_846_720, maxKbps: 12_000, highKbps: 30_000 },
  { name: '4.1', code: 123, maxLumaPs: 2_228_224, maxLumaSr: 133_693_440, maxKbps: 20_000, highKbps: 50_000 },
  { name: '5', code: 150, maxLumaPs: 8_912_896, maxLumaSr: 267_386_880, maxKbps: 25_000, highKbps: 100_000 },
  { name: '5.1', code: 153, maxLumaPs: 8_912_896, maxLumaSr: 534_773_760, maxKbps: 40_000, highKbps: 160_000 },
  { name: '5.2', code: 156, maxLumaPs: 8_912_896, maxLumaSr: 1_069_547_520, maxKbps: 60_000, highKbps: 240_000 },
  { name: '6', code: 180, maxLumaPs: 35_651_584, maxLumaSr: 1_069_547_520, maxKbps: 60_000, highKbps: 240_000 },
  { name: '6.1', code: 183, maxLumaPs: 35_651_584, maxLumaSr: 2_139_095_040, maxKbps: 120_000, highKbps: 480_000 },
  { name: '6.2', code: 186, maxLumaPs: 35_651_584, maxLumaSr: 4_278_190_080, maxKbps: 240_000, highKbps: 800_000 },
];

/** ITU-T H.265, A.4.1: level 8.5 asks for nothing that a decoder could be held to. */
export const hevcNoLevel: TieredLevel = { name: '8.5', code: 255, tier: 'main' };

/** AV1 Bitstream and Decoding Process, Annex A.3: samples a picture, sides, samples shown a second, frame headers a second, Mb/s of the main and the high tier; the code is seq_level_idx. */
const av1Levels: readonly (Level & {
  maxPicSize: number;
  maxWidth: number;
  maxHeight: number;
  maxDisplayRate: number;
  maxMbps: number;
  highMbps?: number;
  maxHeaderRate: number;
})[] = [
  {
    name: '2.0',
    code: 0,
    maxPicSize: 147_456,
    maxWidth: 2048,
    maxHeight: 1152,
    maxDisplayRate: 4_423_680,
    maxMbps: 1.5,
    maxHeaderRate: 150,
  },
  {
    name: '2.1',
    code: 1,
    maxPicSize: 278_784,
    maxWidth: 2816,
    maxHeight: 1584,
    maxDisplayRate: 8_363_520,
    maxMbps: 3,
    maxHeaderRate: 150,
  },
  {
    name: '3.0',
    code: 4,
    maxPicSize: 665_856,
    maxWidth: 4352,
    maxHeight: 2448,
    maxDisplayRate: 19_975_680,
    maxMbps: 6,
    maxHeaderRate: 150,
  },
  {
    name: '3.1',
    code: 5,
    maxPicSize: 1_065_024,
    maxWidth: 5504,
    maxHeight: 3096,
    maxDisplayRate: 31_950_720,
    maxMbps: 10,
    maxHeaderRate: 150,
  },
  {
    name: '4.0',
    code: 8,
    maxPicSize: 2_359_296,
    maxWidth: 6144,
    maxHeight: 3456,
    maxDisplayRate: 70_778_880,
    maxMbps: 12,
    highMbps: 30,
    maxHeaderRate: 300,
  },
  {
    name: '4.1',
    code: 9,
    maxPicSize: 2_359_296,
    maxWidth: 6144,
    maxHeight: 3456,
    maxDisplayRate: 141_557_760,
    maxMbps: 20,
    highMbps: 50,
    maxHeaderRate: 300,
  },
  {
    name: '5.0',
    code: 12,
    maxPicSize: 8_912_896,
    maxWidth: 8192,
    maxHeight: 4352,
    maxDisplayRate: 267_386_880,
    maxMbps: 30,
    highMbps: 100,
    maxHeaderRate: 300,
  },
  {
    name: '5.1',
    code: 13,
    maxPicSize: 8_912_896,
    maxWidth: 8192,
    maxHeight: 4352,
    maxDisplayRate: 534_773_760,
    maxMbps: 40,
    highMbps: 160,
    maxHeaderRate: 300,
  },
  {
    name: '5.2',
    code: 14,
    maxPicSize: 8_912_896,
    maxWidth: 8192,
    maxHeight: 4352,
    maxDisplayRate: 1_069_547_520,
    maxMbps: 60,
    highMbps: 240,
    maxHeaderRate: 300,
  },
  {
    name: '6.0',
    code: 16,
    maxPicSize: 35_651_584,
    maxWidth: 16_384,
    maxHeight: 8704,
    maxDisplayRate: 1_069_547_520,
    maxMbps: 60,
    highMbps: 240,
    maxHeaderRate: 300,
  },
  {
    name: '6.1',
    code: 17,
    maxPicSize: 35_651_584,
    maxWidth: 16_384,
    maxHeight: 8704,
    maxDisplayRate: 2_139_095_040,
    maxMbps: 100,
    highMbps: 480,
    maxHeaderRate: 300,
  },
  {
    name: '6.2',
    code: 18,
    maxPicSize: 35_651_584,
    maxWidth: 16_384,
    maxHeight: 8704,
    maxDisplayRate: 4_278_190_080,
    maxMbps: 160,
    highMbps: 800,
    maxHeaderRate: 300,
  },
];

/** What a profile's streams may have against Baseline and Main: High 1.25, High 10 3, High 4:4:4 Predictive 4 times (ITU-T H.264, Table A-2). */
const avcFactors = { main: 1, high: 1.25, 'high-10': 3, 'high-444': 4 } as const;
export type AvcRateClass = keyof typeof avcFactors;

/** Frames a second that a level may have at most, however small they are (ITU-T H.264, A.3.1 and A.3.3; H.265, A.4.1; from memory). */
const mostAvcFps = (level: Level): number => (level.code >= 60 ? 300 : 172);
const mostHevcFps = 300;

/** `standard`: what a decoder may be asked to take. `written`: what software encoders write, which do not look at rates of frames and headers. */
export type LevelOf = 'standard' | 'written';

/**
 * Lowest AVC level for a format (A.3.1: macroblocks a second and a picture, each side at most sqrt(8 x MaxFS) macroblocks, kb/s).
 * @param kbps highest rate, 0 where none is set @returns null above level 6.2
 */
export function avcLevel(
  { widthPx, heightPx }: SizePx,
  rate: FrameRate,
  kbps = 0,
  rateClass: AvcRateClass = 'high',
  of: LevelOf = 'written',
): Level | null {
  const wide = Math.ceil(widthPx / 16);
  const tall = Math.ceil(heightPx / 16);
  return (
    avcLevels.find(
      (l) =>
        wide * tall <= l.maxFs &&
        Math.max(wide, tall) <= Math.sqrt(8 * l.maxFs) &&
        wide * tall * framesPerSecond(rate) <= l.maxMbps &&
        kbps <= l.maxKbps * avcFactors[rateClass] &&
        (of === 'written' || framesPerSecond(rate) <= mostAvcFps(l)),
    ) ?? null
  );
}

/** The lowest level and tier of a list that takes a format and a rate: main where it suffices, at each level. */
function lowestTier<L extends Level>(
  levels: readonly L[],
  takesPicture: (level: L) => boolean,
  kbps: number,
  mostKbps: (level: L) => { main: number; high: number },
): TieredLevel | null {
  for (const level of levels) {
    if (!takesPicture(level)) continue;
    const { main, high } = mostKbps(level);
    if (kbps <= high || kbps <= main)
      return { name: level.name, code: level.code, tier: kbps <= main ? 'main' : 'high' };
  }
  return null;
}

/** Lowest HEVC level (A.4.1: luma samples a picture and a second, each side at most sqrt(8 x MaxLumaPs), kb/s), with its tier. */
export function hevcLevel(
  { widthPx, heightPx }: SizePx,
  rate: FrameRate,
  kbps = 0,
  of: LevelOf = 'written',
): TieredLevel | null {
  if (of === 'standard' && framesPerSecond(rate) > mostHevcFps) return null;
  const samples = Math.ceil(widthPx / 8) * 8 * Math.ceil(heightPx / 8) * 8;
  return lowestTier(
    hevcLevels,
    (l) =>
      samples <= l.maxLumaPs &&
      Math.max(widthPx, heightPx) <= Math.sqrt(8 * l.maxLumaPs) &&
      samples * framesPerSecond(rate) <= l.maxLumaSr,
    kbps,
    (l) => ({ main: l.maxKbps, high: l.highKbps ?? 0 }),
  );
}

/** Lowest AV1 level (Annex A.3: samples a picture, sides, samples shown and headers a second, Mb/s), with its tier. */
export function av1Level(
  { widthPx, heightPx }: SizePx,
  rate: FrameRate,
  kbps = 0,
  of: LevelOf = 'written',
): TieredLevel | null {
  const samples = widthPx * heightPx;
  const fps = framesPerSecond(rate);
  return lowestTier(
    av1Levels,
    (l) =>
      samples <= l.maxPicSize &&
      widthPx <= l.maxWidth &&
      heightPx <= l.maxHeight &&
      samples * fps <= l.maxDisplayRate &&
      (of === 'written' || fps <= l.maxHeaderRate),
    kbps,
    (l) => ({ main: l.maxMbps * 1000, high: (l.highMbps ?? 0) * 1000 }),
  );
}
