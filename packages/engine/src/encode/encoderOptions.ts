import { lookAheadQuiet } from '@mellow/core';
import type { Effort, Recipe } from '@mellow/model';
import { blockOptions } from './blockOptions';

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
/**
 * Groups of 8 pictures instead of 32, and no filtering over time: this encoder then holds 25 pictures instead of 85 and works evenly,
 * where it else stands still for two seconds and takes the whole processor for one; about the same bits at one SSIM (docs/model.md, "Work").
 */
const liveAv1 = 'hierarchical-levels=3:enable-tf=0';
const eyeWords = ['psy-rd=2.0', 'aq-mode=2'];
const noEyeWords = ['psy-rd=0', 'aq-mode=0'];

/** How many pictures ahead a recipe asks an encoder to look; null where it does not, or where that has no effect. */
const lookAheadOf = (recipe: Recipe): number | null =>
  lookAheadQuiet(recipe) === null ? recipe.encode.lookAheadFrames : null;

function av1Words(recipe: Recipe): string {
  const { easyDecode, eyeTuning } = recipe.encode;
  const ahead = lookAheadOf(recipe);
  return [
    liveAv1,
    ...(ahead === null ? [] : [`lookahead=${ahead}`]),
    ...(easyDecode ? ['fast-decode=1'] : []),
    ...(eyeTuning === 'own' ? [] : [`tune=${eyeTuning === 'on' ? 0 : 1}`]),
  ].join(':');
}

/** Without a look-ahead this encoder holds no picture back; its efforts are steps of one scale, the last two of its thorough mode. */
const vp9Efforts: Record<Effort, { deadline: string; 'cpu-used': string }> = {
  lightest: { deadline: 'realtime', 'cpu-used': '8' },
  light: { deadline: 'realtime', 'cpu-used': '7' },
  middle: { deadline: 'realtime', 'cpu-used': '6' },
  thorough: { deadline: 'good', 'cpu-used': '5' },
  'most-thorough': { deadline: 'good', 'cpu-used': '3' },
};

function vp9Options(recipe: Recipe): Record<string, string> {
  const { encode } = recipe;
  const ahead = lookAheadOf(recipe) ?? 0;
  const quality = String(encode.quality);
  return {
    ...vp9Efforts[encode.effort],
    'row-mt': '1',
    'tile-columns': '2',
    'lag-in-frames': String(ahead),
    // A picture that is not shown has to lie in the future.
    'auto-alt-ref': ahead > 1 ? '1' : '0',
    ...(encode.rateControl === 'constant-quality' ? { crf: quality } : {}),
    ...(encode.rateControl === 'constant-quantiser' ? { crf: quality, qmin: quality, qmax: quality } : {}),
    ...(encode.rateControl === 'lossless' ? { lossless: '1' } : {}),
    ...(encode.eyeTuning === 'own' ? {} : { 'aq-mode': encode.eyeTuning === 'on' ? '1' : '0' }),
  };
}

/** Private options of the library's encoder `native` for a recipe; each is an error where the encoder does not know it. */
export function encoderOptions(recipe: Recipe, native: string): Record<string, string> {
  const { encode } = recipe;
  if (native.startsWith('libx264')) return avcOptions(recipe);
  if (native === 'libx265') return hevcOptions(recipe);
  if (native === 'libsvtav1')
    return {
      preset: av1Presets[encode.effort],
      'svtav1-params': av1Words(recipe),
      ...(encode.rateControl === 'constant-quality' ? { crf: String(encode.quality) } : {}),
      ...(encode.rateControl === 'constant-quantiser' ? { qp: String(encode.quality) } : {}),
    };
  if (native === 'libvpx-vp9') return vp9Options(recipe);
  if (native === 'ffv1') return { level: '3', slicecrc: '1', slices: '4' };
  if (native === 'mjpeg') return { qmin: String(encode.quantiser), qmax: String(encode.quantiser) };
  return blockOptions(recipe, native) ?? {};
}

function avcOptions(recipe: Recipe): Record<string, string> {
  const { encode } = recipe;
  const options: Record<string, string> = { preset: avcPresets[encode.effort] };
  const tunes = [...(encode.lowDelay ? ['zerolatency'] : []), ...(encode.easyDecode ? ['fastdecode'] : [])];
  if (tunes.length) options['tune'] = tunes.join(',');
  // Open groups exist only where a picture leans on a later one.
  if (!encode.lowDelay && !encode.closedGroups && encode.bFrames > 0) options['x264-params'] = 'open-gop=1';
  const ahead = lookAheadOf(recipe);
  if (ahead !== null) options['rc-lookahead'] = String(ahead);
  if (encode.eyeTuning !== 'own') {
    options['psy'] = encode.eyeTuning === 'on' ? '1' : '0';
    options['aq-mode'] = encode.eyeTuning === 'on' ? '1' : '0';
  }
  if (encode.rateControl === 'constant-quality') options['crf'] = String(encode.quality);
  if (encode.rateControl === 'constant-quantiser') options['qp'] = String(encode.quality);
  if (encode.rateControl === 'constant-bitrate') options['nal-hrd'] = 'cbr';
  if (encode.rateControl === 'lossless') options['qp'] = '0';
  // A profile can only be named where it holds all that is asked for.
  else if (encode.profile !== 'high' && encode.pixels === '4:2:0') options['profile'] = encode.profile;
  return options;
}

function hevcOptions(recipe: Recipe): Record<string, string> {
  const { encode } = recipe;
  const words = ['log-level=error', `open-gop=${encode.closedGroups ? 0 : 1}`];
  if (encode.rateControl === 'lossless') words.push('lossless=1');
  const ahead = lookAheadOf(recipe);
  // Its slices want two pictures at least, and more than there are B-frames.
  if (ahead !== null) words.push(`rc-lookahead=${Math.max(ahead, encode.bFrames + 1, 2)}`);
  // What the encoder's own mode of that name leaves out; that mode cannot stand beside another.
  if (encode.easyDecode) words.push('deblock=0', 'sao=0', 'weightp=0', 'weightb=0', 'b-intra=0');
  if (encode.eyeTuning !== 'own') words.push(...(encode.eyeTuning === 'on' ? eyeWords : noEyeWords));
  const options: Record<string, string> = { preset: avcPresets[encode.effort], 'x265-params': words.join(':') };
  if (encode.lowDelay) options['tune'] = 'zerolatency';
  if (encode.rateControl === 'constant-quality') options['crf'] = String(encode.quality);
  if (encode.rateControl === 'constant-quantiser') options['qp'] = String(encode.quality);
  return options;
}
