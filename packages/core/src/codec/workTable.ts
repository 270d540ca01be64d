import type { Effort, EncoderName, EncoderState, Figure, MachineSheet, Recipe } from '@mellow/model';
import { asFiled } from '../picture/camera';
import { contentWork } from './contentWork';
import { encoderFacts } from './encoders';
import type { SceneKnowledge } from './rateModel';

/** Work of a core a frame at the lightest effort, microseconds per megapixel, on the PC this was measured on (docs/model.md, "Work"). */
const softwareUsPerMegapixel: Partial<Record<EncoderName, number>> = {
  'avc-software': 4700,
  'hevc-software': 26_000,
  'av1-software': 61_000,
  'vp9-software': 15_000,
  'ffv1-software': 29_000,
  'utvideo-software': 6000,
  'mjpeg-software': 9000,
};
/** Against the lightest effort at one quality number, means over three scenes (`npm run fit`); the last of each is assumed. */
const avcEffort: Record<Effort, number> = { lightest: 1, light: 1.75, middle: 2.2, thorough: 5.2, 'most-thorough': 8 };
const hevcEffort: Record<Effort, number> = { lightest: 1, light: 1.4, middle: 1.8, thorough: 2.6, 'most-thorough': 4 };
/** The first two measured, the others carried on from an earlier measurement. */
const av1Effort: Record<Effort, number> = { lightest: 1, light: 1.1, middle: 1.8, thorough: 2.4, 'most-thorough': 3.2 };
/** All but the last measured; from the fourth on it takes its thorough mode. */
const vp9Effort: Record<Effort, number> = { lightest: 1, light: 1.3, middle: 1.4, thorough: 6.8, 'most-thorough': 12 };
/** Time of a block a frame, microseconds per megapixel, for a card of middling age; an assumption with a wide range. */
const blockUsPerMegapixel: Partial<Record<EncoderName, number>> = {
  'avc-card': 1500,
  'hevc-card': 1700,
  'av1-card': 1700,
  'avc-processor-graphics': 2300,
  'hevc-processor-graphics': 2600,
};
const blockEffort: Record<Effort, number> = {
  lightest: 1,
  light: 1.15,
  middle: 1.7,
  thorough: 2.4,
  'most-thorough': 3.2,
};

/** Ten bits take a quarter more (assumed), all colours as measured once. */
const pixelWork = { '4:2:0': 1, '4:2:0-10': 1.25, '4:4:4': 1.7, rgb: 1.7 } as const;

const bFrameWork = 0.14;

/** Work grows a little less than the pixels: pixels^0.95 (fitted on two sizes, docs/model.md). */
const pixelPower = 0.95;

export function effortFactor(encoder: EncoderName, effort: Effort): number {
  if (!encoderFacts[encoder].efforts.length) return 1;
  if (encoderFacts[encoder].place !== 'software') return blockEffort[effort];
  if (encoder === 'av1-software') return av1Effort[effort];
  if (encoder === 'vp9-software') return vp9Effort[effort];
  return encoder === 'hevc-software' ? hevcEffort[effort] : avcEffort[effort];
}

/**
 * Work of a frame in the encoder: of one core for software, time of the block for hardware, in microseconds.
 * An unknown encoder has a range rather than a point: its typical value halved and doubled.
 * @param scene what it sees; left out: what the test encode sees
 */
export function encodeWorkUs(recipe: Recipe, machine: MachineSheet | null, scene?: SceneKnowledge): Figure {
  const { encode, size } = asFiled(recipe);
  const state = machine?.encoders.find((e) => e.encoder === encode.encoder) ?? null;
  const software = encoderFacts[encode.encoder].place === 'software';
  const base = state?.workUsPerMegapixel ?? typicalWork(encode.encoder, machine, software);
  const megapixels = (size.widthPx * size.heightPx) / 1e6;
  const measuredEffort = measuredFactor(state, encode.effort);
  const factor =
    megapixels ** pixelPower *
    (measuredEffort ?? effortFactor(encode.encoder, encode.effort)) *
    (1 + bFrameWork * Math.min(2, encode.bFrames)) *
    pixelWork[encode.pixels];
  const content = scene ? contentWork(recipe, scene) : { factor: 1, wide: 1 };
  const spread = (measuredEffort === null && encode.effort !== 'lightest' ? 1.1 : 1) * content.wide;
  const value = base.value * factor * content.factor;
  return {
    value,
    low: (value * base.low) / base.value / spread,
    high: ((value * base.high) / base.value) * spread,
    origin: base.origin,
    from: base.from,
  };
}

function typicalWork(encoder: EncoderName, machine: MachineSheet | null, software: boolean): Figure {
  const value = (software ? softwareUsPerMegapixel[encoder] : blockUsPerMegapixel[encoder]) ?? 10_000;
  const speed = software ? (machine?.coreSpeed.value ?? 1) : (machine?.graphics?.speed.value ?? 1);
  const wide = software && machine?.coreSpeed.origin === 'measured' ? 1.4 : 2;
  return {
    value: value / speed,
    low: value / speed / wide,
    high: (value / speed) * wide,
    origin: software ? 'typical' : 'assumed',
    from: software
      ? 'typical for this encoder; a test encode or a trial narrows it'
      : 'assumed for such a card; it was not measured',
  };
}

function measuredFactor(state: EncoderState | null, effort: Effort): number | null {
  const at = state?.byEffort[effort];
  const lightest = state?.byEffort.lightest;
  return at !== undefined && lightest ? at / lightest : null;
}
