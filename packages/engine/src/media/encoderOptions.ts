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
/** Private options of the library's encoder `native` for a recipe; each is an error where the encoder does not know it. */
export function encoderOptions(recipe: Recipe, native: string): Record<string, string> {
  const { encode } = recipe;
  if (native.startsWith('libx264')) return avcOptions(recipe);
  if (native === 'libx265') return hevcOptions(recipe);
  if (native === 'libsvtav1')
    return {
      preset: av1Presets[encode.effort],
      'svtav1-params': liveAv1,
      ...(encode.rateControl === 'constant-quality' ? { crf: String(encode.quality) } : {}),
      ...(encode.rateControl === 'constant-quantiser' ? { qp: String(encode.quality) } : {}),
    };
  if (native === 'ffv1') return { level: '3', slicecrc: '1', slices: '4' };
  if (native === 'mjpeg') return { qmin: String(encode.quantiser), qmax: String(encode.quantiser) };
  return blockOptions(recipe, native) ?? {};
}

function avcOptions({ encode }: Recipe): Record<string, string> {
  const options: Record<string, string> = { preset: avcPresets[encode.effort] };
  if (encode.lowDelay) options['tune'] = 'zerolatency';
  // Open groups exist only where a picture leans on a later one.
  else if (!encode.closedGroups && encode.bFrames > 0) options['x264-params'] = 'open-gop=1';
  if (encode.rateControl === 'constant-quality') options['crf'] = String(encode.quality);
  if (encode.rateControl === 'constant-quantiser') options['qp'] = String(encode.quality);
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
  if (encode.rateControl === 'constant-quantiser') options['qp'] = String(encode.quality);
  return options;
}
