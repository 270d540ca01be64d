import {
  mostLookAhead,
  type Container,
  type Effort,
  type EncoderName,
  type PixelKind,
  type RateControl,
  type Recipe,
} from '@mellow/model';

export type Standard = 'AVC' | 'HEVC' | 'AV1' | 'VP9' | 'FFV1' | 'Ut Video' | 'Motion JPEG';
export type EncoderPlace = 'software' | 'card' | 'processor-graphics';

/** What an encoder can do; screens, checks and forecasts are drawn from this table and nothing else. */
export interface EncoderFacts {
  standard: Standard;
  place: EncoderPlace;
  rateControls: readonly RateControl[];
  /** Its quality numbers, lower is better; null where it has none. */
  quality: { best: number; worst: number } | null;
  /** Empty: it has one effort only. */
  efforts: readonly Effort[];
  mostBFrames: number;
  lowDelay: boolean;
  easyDecode: boolean;
  /** Most pictures it looks ahead when it is told how many; 0: it cannot be told. */
  mostLookAhead: number;
  /** Whether it can be told to mind the eye. */
  eyeTuning: boolean;
  /** Whether one of several cards can be chosen. */
  cards: boolean;
  /** Most frames a second that it opens for; null: more than a recipe can ask. */
  mostFps: number | null;
  /** Variable bitrate keeps under a ceiling. */
  ceiling: boolean;
  pixels: readonly PixelKind[];
  /** Whether pictures lean on earlier ones, so that key pictures have a distance. */
  keyDistance: boolean;
  profiles: boolean;
  threads: boolean;
  containers: readonly Container[];
  /** Chromium decodes its 4:2:0 (docs/model.md, "What browsers play"). */
  browserPlays: boolean;
  meaning: string;
}

const allEfforts: readonly Effort[] = ['lightest', 'light', 'middle', 'thorough', 'most-thorough'];

const blockRates: readonly RateControl[] = [
  'constant-quality',
  'constant-quantiser',
  'constant-bitrate',
  'variable-bitrate',
];
const ratesInSoftware: readonly RateControl[] = [...blockRates, 'lossless'];
const everywhere: readonly Container[] = ['matroska', 'fragmented-mp4', 'mp4'];

const avc = {
  standard: 'AVC',
  mostFps: null,
  ceiling: true,
  quality: { best: 0, worst: 51 },
  efforts: allEfforts,
  keyDistance: true,
  containers: everywhere,
  browserPlays: true,
} as const;
const hevc = {
  standard: 'HEVC',
  mostFps: null,
  ceiling: true,
  quality: { best: 0, worst: 51 },
  efforts: allEfforts,
  keyDistance: true,
  profiles: false,
  containers: everywhere,
  browserPlays: false,
} as const;
const av1 = {
  standard: 'AV1',
  mostFps: null,
  ceiling: true,
  quality: { best: 0, worst: 63 },
  efforts: allEfforts,
  mostBFrames: 0,
  lowDelay: false,
  keyDistance: true,
  profiles: false,
  containers: everywhere,
  browserPlays: true,
} as const;
const inSoftware = { easyDecode: true, mostLookAhead, eyeTuning: true, cards: false, threads: true } as const;
const block = { rateControls: blockRates, easyDecode: false, threads: false } as const;
const cardBlock = { ...block, mostLookAhead: 32, eyeTuning: true, cards: true } as const;
const graphicsBlock = { ...block, mostLookAhead, eyeTuning: false, cards: false } as const;
const whole = {
  mostFps: null,
  quality: null,
  ceiling: false,
  efforts: [],
  mostBFrames: 0,
  lowDelay: false,
  easyDecode: false,
  mostLookAhead: 0,
  eyeTuning: false,
  cards: false,
  keyDistance: false,
  profiles: false,
  threads: true,
  browserPlays: false,
  place: 'software',
} as const;

/** Whether a recipe is ruled by a number on its encoder's scale, and not by a bitrate. */
export const hasQualityNumber = ({ rateControl }: Pick<Recipe['encode'], 'rateControl'>): boolean =>
  rateControl === 'constant-quality' || rateControl === 'constant-quantiser';

export const encoderFacts: Record<EncoderName, EncoderFacts> = {
  'avc-software': {
    ...avc,
    ...inSoftware,
    place: 'software',
    rateControls: ratesInSoftware,
    mostBFrames: 4,
    lowDelay: true,
    pixels: ['4:2:0', '4:2:0-10', '4:4:4', 'rgb'],
    profiles: true,
    meaning: 'Opens everywhere; shares the processor with the game.',
  },
  'hevc-software': {
    ...hevc,
    ...inSoftware,
    place: 'software',
    rateControls: ratesInSoftware,
    mostBFrames: 4,
    lowDelay: true,
    pixels: ['4:2:0', '4:2:0-10', '4:4:4', 'rgb'],
    meaning: 'About 0.7 of the bits at one look, for about three times the processor.',
  },
  'av1-software': {
    ...av1,
    ...inSoftware,
    ceiling: false,
    mostFps: 240,
    place: 'software',
    rateControls: ['constant-quality', 'constant-quantiser', 'variable-bitrate'],
    pixels: ['4:2:0', '4:2:0-10'],
    meaning: 'About 0.76 of the bits at one look, for about twice the processor; few editors open it.',
  },
  'vp9-software': {
    ...av1,
    ...inSoftware,
    standard: 'VP9',
    easyDecode: false,
    mostLookAhead: 25,
    mostFps: null,
    ceiling: true,
    place: 'software',
    rateControls: ratesInSoftware,
    pixels: ['4:2:0', '4:2:0-10', '4:4:4', 'rgb'],
    meaning: 'Free of licences and played by browsers; few editors open it.',
  },
  'ffv1-software': {
    ...whole,
    standard: 'FFV1',
    rateControls: ['lossless'],
    pixels: ['4:2:0', '4:2:0-10', '4:4:4', 'rgb'],
    containers: ['matroska'],
    meaning: 'Lossless and compact; for archives and effects.',
  },
  'utvideo-software': {
    ...whole,
    standard: 'Ut Video',
    rateControls: ['lossless'],
    pixels: ['4:2:0', '4:4:4', 'rgb'],
    containers: ['matroska'],
    meaning: 'Lossless and light on the processor; very large.',
  },
  'mjpeg-software': {
    ...whole,
    standard: 'Motion JPEG',
    rateControls: ['picture-by-picture'],
    pixels: ['4:2:0'],
    containers: everywhere,
    meaning: 'Each picture by itself: cheap, large, easy to cut.',
  },
  'avc-card': {
    ...avc,
    ...cardBlock,
    pixels: ['4:2:0'],
    place: 'card',
    mostBFrames: 4,
    lowDelay: true,
    profiles: false,
    meaning: 'A block of its own on the graphics card: hardly any processor.',
  },
  'hevc-card': {
    ...hevc,
    ...cardBlock,
    pixels: ['4:2:0', '4:2:0-10'],
    place: 'card',
    mostBFrames: 0,
    lowDelay: true,
    meaning: 'The card’s block, newer standard: smaller at one look.',
  },
  'av1-card': {
    ...av1,
    ...cardBlock,
    pixels: ['4:2:0', '4:2:0-10'],
    place: 'card',
    meaning: 'The block of the newest cards.',
  },
  'avc-processor-graphics': {
    ...avc,
    ...graphicsBlock,
    pixels: ['4:2:0'],
    place: 'processor-graphics',
    mostBFrames: 2,
    lowDelay: false,
    profiles: false,
    meaning: 'The block in the processor’s own graphics.',
  },
  'hevc-processor-graphics': {
    ...hevc,
    ...graphicsBlock,
    pixels: ['4:2:0', '4:2:0-10'],
    place: 'processor-graphics',
    mostBFrames: 0,
    lowDelay: false,
    meaning: 'The same block, newer standard.',
  },
};

export const placeWords: Record<EncoderPlace, string> = {
  software: 'in software',
  card: 'on graphics card',
  'processor-graphics': 'on processor graphics',
};

/** "AVC on graphics card". */
export const encoderWords = (encoder: EncoderName): string =>
  `${encoderFacts[encoder].standard} ${placeWords[encoderFacts[encoder].place]}`;

/**
 * Motion JPEG is full range by its own standard (ITU-T T.871), red, green and blue are so by custom (0 to 255, as readers
 * take them); every other file has the range that was asked for.
 */
export const fileRange = (recipe: Recipe): 'limited' | 'full' =>
  recipe.encode.encoder === 'mjpeg-software' || recipe.encode.pixels === 'rgb' ? 'full' : recipe.encode.range;

/** Matrix of a file's samples: JPEG carries no word of it, and readers take Rec. 601 (ITU-T T.871). */
export const fileMatrix = (recipe: Recipe): 'rgb' | 'bt601' | 'bt709' => {
  if (recipe.encode.encoder === 'mjpeg-software') return 'bt601';
  return recipe.encode.pixels === 'rgb' ? 'rgb' : recipe.encode.matrix;
};

export const isLossless = (recipe: Recipe): boolean => recipe.encode.rateControl === 'lossless';
