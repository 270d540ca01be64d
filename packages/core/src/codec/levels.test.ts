import type { FrameRate, Recipe } from '@mellow/model';
import { baseRecipe } from '../recipe/anyRecipe.test-support';
import { avcLevel, av1Level, codecString, hevcLevel, levelOf, withEncoder } from './index';

const rate = (fps: number): FrameRate => ({ num: fps, den: 1 });
const size = (widthPx: number, heightPx: number) => ({ widthPx, heightPx });

// Computed by hand from the standards' tables; that the encoders choose the same is checked in engine/matrix/againstTools.matrix.ts.
describe('levels', () => {
  it.each<[number, number, number, string]>([
    [640, 360, 30, '3'],
    [854, 480, 30, '3.1'],
    [1280, 720, 30, '3.1'],
    [1280, 720, 60, '3.2'],
    [1920, 1080, 30, '4'],
    [1920, 1080, 60, '4.2'],
    [1920, 1080, 120, '5.1'],
    [2560, 1080, 60, '5.1'],
    [2560, 1440, 30, '5'],
    [2560, 1440, 60, '5.1'],
    [3840, 2160, 30, '5.1'],
    [3840, 2160, 60, '5.2'],
    [3840, 2160, 120, '6'],
  ])('AVC %d×%d at %d fps is %s (ITU-T H.264, Table A-1)', (w, h, fps, name) =>
    expect(avcLevel(size(w, h), rate(fps))?.name).toBe(name),
  );
  it.each<[number, number, number, string]>([
    [640, 360, 30, '2.1'],
    [960, 540, 30, '3'],
    [1280, 720, 30, '3.1'],
    [1280, 720, 60, '4'],
    [1920, 1080, 30, '4'],
    [1920, 1080, 60, '4.1'],
    [1920, 1080, 120, '5'],
    [2560, 1440, 60, '5'],
    [3840, 2160, 30, '5'],
    [3840, 2160, 60, '5.1'],
    [3840, 2160, 120, '5.2'],
  ])('HEVC %d×%d at %d fps is %s (ITU-T H.265, Tables A.8 and A.9)', (w, h, fps, name) =>
    expect(hevcLevel(size(w, h), rate(fps))?.name).toBe(name),
  );
  it.each<[number, number, number, string]>([
    [512, 288, 30, '2.0'],
    [640, 360, 30, '2.1'],
    [960, 540, 30, '3.0'],
    [1280, 720, 30, '3.1'],
    [1280, 720, 60, '4.0'],
    [1920, 1080, 30, '4.0'],
    [1920, 1080, 60, '4.1'],
    [1920, 1080, 120, '5.0'],
    [2560, 1440, 60, '5.0'],
    [3840, 2160, 30, '5.0'],
    [3840, 2160, 60, '5.1'],
    [3840, 2160, 120, '5.2'],
  ])('AV1 %d×%d at %d fps is %s (AV1 specification, Annex A.3)', (w, h, fps, name) =>
    expect(av1Level(size(w, h), rate(fps))?.name).toBe(name),
  );
  it('rise with a set rate, by 1.25 more in High (A.3.3)', () => {
    expect(avcLevel(size(1280, 720), rate(30), 17_500)?.name).toBe('3.1');
    expect(avcLevel(size(1280, 720), rate(30), 17_500, 'main')?.name).toBe('3.2');
    expect(avcLevel(size(1280, 720), rate(30), 60_000)?.name).toBe('4.1');
    expect(avcLevel(size(1280, 720), rate(30), 56_000, 'high-444')?.name).toBe('3.1');
    expect(avcLevel(size(1280, 720), rate(30), 57_000, 'high-444')?.name).toBe('3.2');
  });
  it('have a high tier from 4 on, which is taken before a higher level (H.265, Table A.8; AV1, A.3)', () => {
    expect(hevcLevel(size(1920, 1080), rate(60), 30_000)).toMatchObject({ name: '4.1', tier: 'high' });
    expect(hevcLevel(size(1920, 1080), rate(60), 20_000)).toMatchObject({ name: '4.1', tier: 'main' });
    expect(hevcLevel(size(1920, 1080), rate(60), 60_000)).toMatchObject({ name: '5', tier: 'high' });
    expect(hevcLevel(size(640, 360), rate(30), 14_000)).toMatchObject({ name: '4', tier: 'high' });
    expect(av1Level(size(1920, 1080), rate(60), 35_000)).toMatchObject({ name: '4.1', tier: 'high' });
    expect(av1Level(size(1920, 1080), rate(60), 19_000)).toMatchObject({ name: '4.1', tier: 'main' });
  });
  it('of the standard also limit frames and headers a second, which encoders leave alone', () => {
    expect(avcLevel(size(640, 360), rate(172), 0, 'high', 'standard')?.name).toBe('3.2');
    expect(avcLevel(size(640, 360), rate(173), 0, 'high', 'standard')?.name).toBe('6');
    expect(avcLevel(size(640, 360), rate(173))?.name).toBe('3.2');
    expect(avcLevel(size(640, 360), rate(301), 0, 'high', 'standard')).toBeNull();
    expect(hevcLevel(size(640, 360), rate(300), 0, 'standard')?.name).toBe(hevcLevel(size(640, 360), rate(300))?.name);
    expect(hevcLevel(size(640, 360), rate(301), 0, 'standard')).toBeNull();
    expect(av1Level(size(640, 360), rate(70), 0, 'standard')?.name).toBe('3.0');
    expect(av1Level(size(640, 360), rate(151), 0, 'standard')?.name).toBe('4.0');
    expect(av1Level(size(640, 360), rate(301), 0, 'standard')).toBeNull();
  });
  it('end: a picture above all of them has none', () => {
    expect(avcLevel(size(7680, 4320), rate(512))).toBeNull();
    expect(hevcLevel(size(16_900, 8), rate(30))?.name ?? null).toBeNull();
    expect(av1Level(size(7680, 4320), rate(240))).toBeNull();
  });
  it('hold a side to sqrt(8 x MaxFS) macroblocks: a very wide strip needs more than its area', () => {
    // 240 x 4 macroblocks are 960, within level 2.2 by area, but 240 > sqrt(8 x 1620) = 113.8 and sqrt(8 x 5120) = 202.4; 4 has 256.
    expect(avcLevel(size(3840, 64), rate(5))?.name).toBe('4');
  });
});

describe('codec strings', () => {
  const recipe = (change: Partial<Recipe['encode']>, w = 1920, h = 1080, fps = 60): Recipe => ({
    ...baseRecipe,
    rate: rate(fps),
    size: { ...baseRecipe.size, widthPx: w, heightPx: h },
    encode: { ...baseRecipe.encode, effort: 'light', ...change },
  });
  it('are those of RFC 6381 and ISO/IEC 14496-15', () => {
    expect(codecString(recipe({}))).toBe('avc1.64002A');
    expect(codecString(recipe({ profile: 'main' }))).toBe('avc1.4D402A');
    expect(codecString(recipe({ profile: 'baseline' }, 1280, 720, 30))).toBe('avc1.42C01F');
    expect(codecString(withEncoder(recipe({}), 'hevc-software'))).toBe('hvc1.1.6.L123.90');
    expect(codecString(withEncoder(recipe({}, 3840, 2160), 'av1-software'))).toBe('av01.0.13M.08');
    const set = { rateControl: 'constant-bitrate', bitrateKbps: 30_000 } as const;
    expect(codecString(withEncoder(recipe(set), 'hevc-software'))).toBe('hvc1.1.6.H123.90');
    expect(codecString(withEncoder(recipe(set), 'av1-card'))).toBe('av01.0.09H.08');
  });
  it('are absent where a standard has none, and the level follows the highest rate', () => {
    expect(codecString(withEncoder(recipe({}), 'ffv1-software'))).toBeNull();
    expect(levelOf(recipe({ rateControl: 'variable-bitrate', bitrateKbps: 20_000, ceilingKbps: 90_000 }))?.name).toBe(
      '5',
    );
    expect(levelOf(recipe({ rateControl: 'constant-bitrate', bitrateKbps: 20_000 }))?.name).toBe('4.2');
  });
});
