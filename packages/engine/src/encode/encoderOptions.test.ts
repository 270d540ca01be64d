import { plainPracticeGame, startRecipe } from '@mellow/core';
import { efforts, type Recipe } from '@mellow/model';
import { avcProfileName, colourName, pictureProfileName, rangeName } from '../native/codedNames';
import { encoderOptions } from './encoderOptions';

const base = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd');
const options = (native: string, part: Partial<Recipe['encode']> = {}): Record<string, string> =>
  encoderOptions({ ...base, encode: { ...base.encode, ...part } }, native);

describe('options of the libraries’ encoders', () => {
  it('go up one rung of the preset ladder with each effort', () => {
    for (const native of ['libx264', 'libx265', 'libsvtav1', 'h264_nvenc'])
      expect(new Set(efforts.map((effort) => options(native, { effort })['preset'])).size).toBe(5);
    expect(options('libx264', { effort: 'lightest' })['preset']).toBe('ultrafast');
    expect(options('libx264', { effort: 'most-thorough' })['preset']).toBe('medium');
  });
  it('name a quality number only with constant quality', () => {
    for (const native of ['libx264', 'libx265', 'libsvtav1']) {
      expect(options(native, { rateControl: 'constant-quality', quality: 21 })['crf']).toBe('21');
      expect(options(native, { rateControl: 'variable-bitrate' })['crf']).toBeUndefined();
    }
    expect(options('h264_nvenc', { rateControl: 'constant-quality', quality: 21 })).toMatchObject({
      rc: 'vbr',
      cq: '21',
      b: '0',
    });
    expect(options('h264_nvenc', { rateControl: 'constant-quantiser', quality: 21 })).toMatchObject({
      rc: 'constqp',
      qp: '21',
    });
    expect(options('h264_amf', { rateControl: 'constant-quality', quality: 21 })).toMatchObject({
      rc: 'cqp',
      qp_i: '21',
      qp_p: '21',
    });
  });
  it('name a quantiser only with constant quantiser, and never beside a quality number', () => {
    for (const native of ['libx264', 'libx265', 'libsvtav1']) {
      const set = options(native, { rateControl: 'constant-quantiser', quality: 21 });
      expect(set['qp']).toBe('21');
      expect(set['crf']).toBeUndefined();
      expect(options(native, { rateControl: 'constant-quality', quality: 21 })['qp']).toBeUndefined();
    }
  });
  it('keep constant bitrate constant, and lossless without loss', () => {
    expect(options('libx264', { rateControl: 'constant-bitrate' })['nal-hrd']).toBe('cbr');
    expect(options('libx264', { rateControl: 'lossless', profile: 'main' })).toMatchObject({ qp: '0' });
    expect(options('libx264', { rateControl: 'lossless', profile: 'main' })['profile']).toBeUndefined();
    expect(options('libx265', { rateControl: 'lossless' })['x265-params']).toContain('lossless=1');
  });
  it('name a profile only where it can hold what is asked', () => {
    expect(options('libx264', { profile: 'main' })['profile']).toBe('main');
    expect(options('libx264', { profile: 'high' })['profile']).toBeUndefined();
    expect(options('libx264', { profile: 'main', pixels: '4:4:4' })['profile']).toBeUndefined();
  });
  it('let no picture wait where low delay is asked', () => {
    expect(options('libx264', { lowDelay: true })['tune']).toBe('zerolatency');
    expect(options('libx264', { lowDelay: false })['tune']).toBeUndefined();
    expect(options('h264_nvenc', { lowDelay: true })['tune']).toBe('ull');
  });
  it('hold picture-by-picture codecs at one quantiser', () => {
    expect(options('mjpeg', { quantiser: 4 })).toEqual({ qmin: '4', qmax: '4' });
  });
});

describe('what is seldom asked of an encoder', () => {
  const light = { effort: 'light' } as const;
  const paramsOf = (native: string, part: Partial<Recipe['encode']>): string[] =>
    (options(native, { ...light, ...part })[native === 'libx265' ? 'x265-params' : 'svtav1-params'] ?? '').split(':');

  it('changes nothing as long as it is left to the encoder', () => {
    for (const native of ['libx264', 'libx265', 'libsvtav1', 'libvpx-vp9', 'h264_nvenc', 'hevc_qsv', 'av1_amf'])
      expect(options(native, { lookAheadFrames: null, eyeTuning: 'own', easyDecode: false, card: null })).toEqual(
        options(native),
      );
  });
  it('a look-ahead is a number that each names in its own way', () => {
    expect(options('libx264', { ...light, lookAheadFrames: 20 })['rc-lookahead']).toBe('20');
    expect(paramsOf('libx265', { lookAheadFrames: 20 })).toContain('rc-lookahead=20');
    // It needs more pictures than it has B-frames, and two at least.
    expect(paramsOf('libx265', { lookAheadFrames: 0, bFrames: 3 })).toContain('rc-lookahead=4');
    expect(paramsOf('libsvtav1', { lookAheadFrames: 20 })).toContain('lookahead=20');
    expect(options('h264_nvenc', { lookAheadFrames: 20 })['rc-lookahead']).toBe('20');
    expect(options('h264_qsv', { lookAheadFrames: 20 })).toMatchObject({ look_ahead: '1', look_ahead_depth: '20' });
    expect(options('hevc_qsv', { lookAheadFrames: 0 })).toMatchObject({ extbrc: '0', look_ahead_depth: '0' });
    expect(options('hevc_amf', { lookAheadFrames: 20 })).toMatchObject({
      preanalysis: '1',
      pa_lookahead_buffer_depth: '20',
    });
  });
  it('VP9 hides no picture where none may wait', () => {
    const vp9 = (lookAheadFrames: number | null) =>
      encoderOptions({ ...base, encode: { ...base.encode, encoder: 'vp9-software', lookAheadFrames } }, 'libvpx-vp9');
    expect(vp9(null)).toMatchObject({ 'lag-in-frames': '0', 'auto-alt-ref': '0' });
    expect(vp9(16)).toMatchObject({ 'lag-in-frames': '16', 'auto-alt-ref': '1' });
  });
  it('a look-ahead that would have no effect is not sent, and does not undo a low delay', () => {
    for (const native of ['libx264', 'libx265', 'h264_nvenc', 'h264_qsv'])
      expect(JSON.stringify(options(native, { ...light, lowDelay: true, lookAheadFrames: 20 }))).not.toMatch(/look/);
    expect(options('libx264', { effort: 'lightest', bFrames: 0, lookAheadFrames: 20 })['rc-lookahead']).toBeUndefined();
    // It holds a bitrate together even there.
    expect(
      options('libx264', { effort: 'lightest', rateControl: 'variable-bitrate', lookAheadFrames: 20 })['rc-lookahead'],
    ).toBe('20');
  });
  it('two modes of AVC stand beside each other, and of HEVC the second is spelt out', () => {
    expect(options('libx264', { lowDelay: true, easyDecode: true })['tune']).toBe('zerolatency,fastdecode');
    expect(options('libx264', { easyDecode: true })['tune']).toBe('fastdecode');
    const hevc = options('libx265', { lowDelay: true, easyDecode: true });
    expect(hevc['tune']).toBe('zerolatency');
    expect(hevc['x265-params']?.split(':')).toEqual(expect.arrayContaining(['deblock=0', 'sao=0', 'b-intra=0']));
    expect(paramsOf('libsvtav1', { easyDecode: true })).toContain('fast-decode=1');
  });
  it('the eye is minded, or not, by each one’s own names', () => {
    expect(options('libx264', { eyeTuning: 'off' })).toMatchObject({ psy: '0', 'aq-mode': '0' });
    expect(paramsOf('libx265', { eyeTuning: 'on' })).toEqual(expect.arrayContaining(['psy-rd=2.0', 'aq-mode=2']));
    expect(paramsOf('libsvtav1', { eyeTuning: 'on' })).toContain('tune=0');
    expect(options('av1_nvenc', { eyeTuning: 'on' })['spatial-aq']).toBe('1');
    expect(options('hevc_amf', { eyeTuning: 'off' })['vbaq']).toBe('0');
    expect(options('av1_amf', { eyeTuning: 'on' })['aq_mode']).toBe('caq');
  });
  it('one of several cards is named where a maker’s block knows them, and refused in words where it does not', () => {
    expect(options('h264_nvenc', { card: 1 })['gpu']).toBe('1');
    expect(() => options('h264_amf', { card: 1 })).toThrow('This block cannot be told a choice of the card');
    expect(() => options('h264_videotoolbox', { eyeTuning: 'on' })).toThrow('a tuning for the eye');
    expect(() => options('h264_videotoolbox', { lookAheadFrames: 5 })).toThrow('a look-ahead');
    expect(() => options('h264_vaapi', { eyeTuning: 'off' })).toThrow('leave that to the encoder');
    expect(options('av1_vaapi', { rateControl: 'constant-quantiser', quality: 63 })).toMatchObject({
      rc_mode: 'CQP',
      global_quality: '255',
    });
  });
});

describe('names of the numbers that streams carry', () => {
  it('are those of the standards', () => {
    expect([66, 578, 77, 100, 244, 9].map(avcProfileName)).toEqual([
      'Baseline',
      'Constrained Baseline',
      'Main',
      'High',
      'High 4:4:4',
      'profile 9',
    ]);
    expect([
      pictureProfileName('hevc', 1),
      pictureProfileName('hevc', 4),
      pictureProfileName('av1', 0),
      pictureProfileName('ffv1', 3),
      pictureProfileName('h264', 100),
    ]).toEqual(['Main', 'Range extensions', 'Main', '', 'High']);
    expect([1, 0, 9, 77].map(colourName)).toEqual(['bt709', 'rgb', 'bt2020', 'code 77']);
    expect([1, 2, 0].map(rangeName)).toEqual(['tv', 'pc', 'unknown']);
  });
});
