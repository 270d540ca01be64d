import type { Effort, Recipe } from '@mellow/model';

/**
 * Names and scales of the options that encoder blocks have in the media libraries, family by family. Ranges were read from the
 * libraries themselves and are held against them by a test; what they do on a card is not tried here.
 */
type Encode = Recipe['encode'];

/** Pictures that a recipe asks a block to look ahead, null where it leaves that to it. */
const aheadOf = ({ lowDelay, lookAheadFrames }: Encode): number | null => (lowDelay ? null : lookAheadFrames);

/** Settings that another maker's block knows and this one does not are refused, not left out. */
function refuse(name: string, encode: Encode, unknown: readonly ('ahead' | 'eye' | 'card')[]): void {
  const asked: Record<(typeof unknown)[number], string | null> = {
    ahead: aheadOf(encode) === null ? null : 'a look-ahead',
    eye: encode.eyeTuning === 'own' ? null : 'a tuning for the eye',
    card: encode.card === null ? null : 'a choice of the card',
  };
  for (const what of unknown)
    if (asked[what]) throw new Error(`${name} cannot be told ${asked[what]}: leave that to the encoder`);
}

const nvencPresets: Record<Effort, string> = {
  lightest: 'p1',
  light: 'p2',
  middle: 'p4',
  thorough: 'p6',
  'most-thorough': 'p7',
};
const qsvPresets: Record<Effort, string> = {
  lightest: 'veryfast',
  light: 'faster',
  middle: 'medium',
  thorough: 'slow',
  'most-thorough': 'veryslow',
};
const amfQualities: Record<Effort, string> = {
  lightest: 'speed',
  light: 'speed',
  middle: 'balanced',
  thorough: 'quality',
  'most-thorough': 'quality',
};

/** AV1's own quantiser index reaches 255 where its quality number ends at 63 (AV1 specification, base_q_idx). */
const av1Index = (quality: number): number => Math.round((quality * 255) / 63);
const quantiserOf = (native: string, { quality }: Encode): string =>
  String(native.startsWith('av1') ? av1Index(quality) : quality);
/** AVC is opened with Main unless something is said. */
const profileOf = (native: string, { profile }: Encode): { profile?: string } =>
  native.startsWith('h264') ? { profile } : {};

function nvenc(native: string, encode: Encode): Record<string, string> {
  const ahead = aheadOf(encode);
  const rates: Partial<Record<Encode['rateControl'], Record<string, string>>> = {
    // Around a quality number the bitrate must be let go.
    'constant-quality': { rc: 'vbr', cq: String(encode.quality), b: '0' },
    'constant-quantiser': { rc: 'constqp', qp: quantiserOf(native, encode) },
    'constant-bitrate': { rc: 'cbr' },
    'variable-bitrate': { rc: 'vbr' },
  };
  return {
    preset: nvencPresets[encode.effort],
    tune: encode.lowDelay ? 'ull' : 'hq',
    ...(ahead === null ? {} : { 'rc-lookahead': String(ahead) }),
    ...(encode.eyeTuning === 'own' ? {} : { 'spatial-aq': encode.eyeTuning === 'on' ? '1' : '0' }),
    ...(encode.card === null ? {} : { gpu: String(encode.card) }),
    ...profileOf(native, encode),
    ...rates[encode.rateControl],
  };
}

/** One standard's part has a switch of its own, the other looks ahead where its rate control is the library's. */
const qsvAhead = (native: string, ahead: number): Record<string, string> => ({
  [native.startsWith('h264') ? 'look_ahead' : 'extbrc']: ahead ? '1' : '0',
  look_ahead_depth: String(ahead),
});

/** The library hands a quality over in steps of this (FF_QP2LAMBDA). */
const lambdaPerQuantiser = 118;

function qsv(native: string, encode: Encode): Record<string, string> {
  refuse('This block', encode, ['eye', 'card']);
  const ahead = aheadOf(encode);
  const options = {
    preset: qsvPresets[encode.effort],
    ...profileOf(native, encode),
    ...(ahead === null ? {} : qsvAhead(native, ahead)),
  };
  if (encode.rateControl === 'constant-quality') return { ...options, global_quality: String(encode.quality) };
  // With this flag the number is the quantiser, without it the quality.
  if (encode.rateControl === 'constant-quantiser')
    return { ...options, flags: '+qscale', global_quality: String(encode.quality * lambdaPerQuantiser) };
  return options;
}

function amf(native: string, encode: Encode): Record<string, string> {
  const { profile } = profileOf(native, encode);
  // It knows the constrained kind only, by its full name.
  const named = profile === 'baseline' ? 'constrained_baseline' : profile;
  refuse('This block', encode, ['card']);
  const ahead = aheadOf(encode);
  const options = {
    quality: amfQualities[encode.effort],
    ...(named ? { profile: named } : {}),
    // Its look-ahead is a part of its analysis before encoding.
    ...(ahead === null
      ? {}
      : { preanalysis: ahead ? '1' : '0', pa_lookahead_buffer_depth: String(Math.min(ahead, 41)) }),
    ...amfEye(native, encode),
  };
  const q = quantiserOf(native, encode);
  // Older cards know no quality number of their own: both go by the quantiser.
  if (encode.rateControl === 'constant-quality' || encode.rateControl === 'constant-quantiser')
    return { ...options, rc: 'cqp', qp_i: q, qp_p: q };
  return { ...options, rc: encode.rateControl === 'constant-bitrate' ? 'cbr' : 'vbr_peak' };
}

/** Bits by variance; the newest standard's table has a name of its own for it. */
function amfEye(native: string, { eyeTuning }: Encode): Record<string, string> {
  if (eyeTuning === 'own') return {};
  if (native.startsWith('av1')) return { aq_mode: eyeTuning === 'on' ? 'caq' : 'none' };
  return { vbaq: eyeTuning === 'on' ? '1' : '0' };
}

function videotoolbox(native: string, encode: Encode): Record<string, string> {
  refuse('This Mac’s block', encode, ['ahead', 'eye', 'card']);
  const options = { realtime: '1', allow_sw: '0', ...profileOf(native, encode) };
  if (encode.rateControl === 'constant-quality') {
    // 1 to 100, higher is better (from memory; newer Macs only).
    const share = Math.max(1, Math.round(100 * (1 - encode.quality / 51)));
    return { ...options, flags: '+qscale', global_quality: String(share * lambdaPerQuantiser) };
  }
  return encode.rateControl === 'constant-bitrate' ? { ...options, constant_bit_rate: '1' } : options;
}

/** Its levels of effort are the driver's own; without one it takes its middle. */
function vaapi(native: string, encode: Encode): Record<string, string> {
  refuse('This card’s block', encode, ['ahead', 'eye']);
  const q = quantiserOf(native, encode);
  // Not every driver knows a quality number of its own: both go by the quantiser.
  const quantiser: Record<string, string> = native.startsWith('av1')
    ? { rc_mode: 'CQP', global_quality: q }
    : { rc_mode: 'CQP', qp: q };
  const { profile } = profileOf(native, encode);
  return {
    ...(profile ? { profile: profile === 'baseline' ? 'constrained_baseline' : profile } : {}),
    ...(encode.rateControl === 'constant-quality' || encode.rateControl === 'constant-quantiser'
      ? quantiser
      : { rc_mode: encode.rateControl === 'constant-bitrate' ? 'CBR' : 'VBR' }),
  };
}

const families: readonly [suffix: string, of: (native: string, encode: Encode) => Record<string, string>][] = [
  ['_nvenc', nvenc],
  ['_qsv', qsv],
  ['_amf', amf],
  ['_videotoolbox', videotoolbox],
  ['_vaapi', vaapi],
];

/** Private options of a block of the library for a recipe; null where the encoder is none. */
export function blockOptions({ encode }: Recipe, native: string): Record<string, string> | null {
  return families.find(([suffix]) => native.endsWith(suffix))?.[1](native, encode) ?? null;
}
