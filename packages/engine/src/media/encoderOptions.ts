import type { Effort, Recipe } from '@mellow/model';

/** The software encoders' presets for our rungs. */
const avcPresets: Record<Effort, string> = {
  lightest: 'ultrafast',
  light: 'superfast',
  middle: 'veryfast',
  thorough: 'fast',
  'most-thorough': 'medium',
};
/** From 9 on this encoder breaks single pictures of fine contrast (10 dB below their neighbours, for more bytes): left out. */
const av1Presets: Record<Effort, string> = {
  lightest: '8',
  light: '7',
  middle: '6',
  thorough: '5',
  'most-thorough': '4',
};
const cardPresets: Record<Effort, string> = {
  lightest: 'p1',
  light: 'p2',
  middle: 'p4',
  thorough: 'p6',
  'most-thorough': 'p7',
};

/** Private options of the library's encoder `native` for a recipe; each is an error where the encoder does not know it. */
export function encoderOptions(recipe: Recipe, native: string): Record<string, string> {
  const { encode } = recipe;
  if (native.startsWith('libx264')) return avcOptions(recipe);
  if (native === 'libx265') return hevcOptions(recipe);
  if (native === 'libsvtav1')
    return {
      preset: av1Presets[encode.effort],
      ...(encode.rateControl === 'constant-quality' ? { crf: String(encode.quality) } : {}),
    };
  if (native === 'ffv1') return { level: '3', slicecrc: '1', slices: '4' };
  if (native === 'mjpeg') return { qmin: String(encode.quantiser), qmax: String(encode.quantiser) };
  if (native.endsWith('nvenc')) return nvencOptions(encode);
  if (native.endsWith('qsv'))
    return encode.rateControl === 'constant-quality'
      ? { preset: 'veryfast', global_quality: String(encode.quality) }
      : { preset: 'veryfast' };
  if (native.endsWith('amf')) return amfOptions(encode);
  return {};
}

function avcOptions({ encode }: Recipe): Record<string, string> {
  const options: Record<string, string> = { preset: avcPresets[encode.effort] };
  if (encode.lowDelay) options['tune'] = 'zerolatency';
  // Open groups exist only where a picture leans on a later one.
  else if (!encode.closedGroups && encode.bFrames > 0) options['x264-params'] = 'open-gop=1';
  if (encode.rateControl === 'constant-quality') options['crf'] = String(encode.quality);
  if (encode.rateControl === 'constant-bitrate') options['nal-hrd'] = 'cbr';
  if (encode.rateControl === 'lossless') options['qp'] = '0';
  // A profile can only be named where it holds all that is asked for.
  else if (encode.profile !== 'high' && encode.pixels === '4:2:0') options['profile'] = encode.profile;
  return options;
}

function hevcOptions({ encode }: Recipe): Record<string, string> {
  const words = ['log-level=error', `open-gop=${encode.closedGroups ? 0 : 1}`];
  if (encode.rateControl === 'lossless') words.push('lossless=1');
  const options: Record<string, string> = { preset: avcPresets[encode.effort], 'x265-params': words.join(':') };
  if (encode.lowDelay) options['tune'] = 'zerolatency';
  if (encode.rateControl === 'constant-quality') options['crf'] = String(encode.quality);
  return options;
}

function nvencOptions(encode: Recipe['encode']): Record<string, string> {
  const options: Record<string, string> = { preset: cardPresets[encode.effort], tune: encode.lowDelay ? 'ull' : 'hq' };
  if (encode.rateControl === 'constant-quality') Object.assign(options, { rc: 'constqp', qp: String(encode.quality) });
  if (encode.rateControl === 'constant-bitrate') options['rc'] = 'cbr';
  if (encode.rateControl === 'variable-bitrate') options['rc'] = 'vbr';
  return options;
}

function amfOptions(encode: Recipe['encode']): Record<string, string> {
  const quality =
    encode.effort === 'lightest' || encode.effort === 'light'
      ? 'speed'
      : encode.effort === 'middle'
        ? 'balanced'
        : 'quality';
  const q = String(encode.quality);
  if (encode.rateControl === 'constant-quality') return { quality, rc: 'cqp', qp_i: q, qp_p: q };
  return { quality, rc: encode.rateControl === 'constant-bitrate' ? 'cbr' : 'vbr_peak' };
}
