import { plainPracticeGame, startRecipe } from '@mellow/core';
import { efforts, type Recipe } from '@mellow/model';
import { avcProfileName, colourName, pictureProfileName, rangeName } from './codedNames';
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
