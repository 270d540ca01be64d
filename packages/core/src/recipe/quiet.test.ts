import type { Recipe } from '@mellow/model';
import { testContext } from '../forecast/testContext.test-support';
import { baseRecipe } from './anyRecipe.test-support';
import { settingKeys, type SettingKey } from '.';
import { quietReason } from './quiet';

const { game } = testContext({ game: { widthPx: 1280, heightPx: 720 } });
const encode = (part: Partial<Recipe['encode']>): Recipe => ({
  ...baseRecipe,
  encode: { ...baseRecipe.encode, ...part },
});

describe('a setting without effect', () => {
  it.each<[SettingKey, Recipe, Recipe, RegExp]>([
    [
      'filter',
      baseRecipe,
      { ...baseRecipe, size: { ...baseRecipe.size, widthPx: 640, heightPx: 360 } },
      /works at another size than 1280×720/,
    ],
    ['fit', baseRecipe, { ...baseRecipe, size: { ...baseRecipe.size, heightPx: 960 } }, /works at another/],
    ['effort', encode({ encoder: 'ffv1-software' }), encode({}), /one effort only/],
    ['quality', encode({ rateControl: 'constant-bitrate' }), encode({}), /works with constant quality/],
    ['bitrate', encode({}), encode({ rateControl: 'variable-bitrate' }), /constant or variable bitrate/],
    [
      'ceiling',
      encode({ rateControl: 'constant-bitrate' }),
      encode({ rateControl: 'variable-bitrate' }),
      /works with variable bitrate/,
    ],
    [
      'ceiling',
      encode({ encoder: 'av1-software', rateControl: 'variable-bitrate' }),
      encode({ encoder: 'hevc-software', rateControl: 'variable-bitrate' }),
      /without a ceiling/,
    ],
    ['keyDistance', encode({ encoder: 'utvideo-software' }), encode({}), /stands by itself/],
    ['groups', encode({ encoder: 'mjpeg-software' }), encode({ bFrames: 2 }), /stands by itself/],
    ['groups', encode({ bFrames: 0 }), encode({ encoder: 'hevc-software', bFrames: 1 }), /only with B-frames/],
    ['groups', encode({ encoder: 'av1-software' }), encode({ encoder: 'avc-card' }), /closes every group/],
    ['bFrames', encode({ encoder: 'av1-software' }), encode({}), /has none/],
    ['lowDelay', encode({ encoder: 'avc-processor-graphics' }), encode({}), /no such mode/],
    ['profile', encode({ encoder: 'avc-card' }), encode({}), /AVC in software/],
    ['profile', encode({ pixels: '4:4:4' }), encode({}), /profile of their own/],
    ['threads', encode({ encoder: 'hevc-card' }), encode({}), /no threads/],
    ['range', encode({ encoder: 'mjpeg-software' }), encode({}), /full range by its standard/],
    ['rewrap', { ...baseRecipe, container: 'mp4' }, baseRecipe, /plain MP4 already/],
  ])('%s names the condition, and is not quieted where it works', (key, without, withEffect, reason) => {
    expect(quietReason(key, without, game)).toMatch(reason);
    expect(quietReason(key, withEffect, game)).toBeNull();
  });
  it('is none of those that always count', () => {
    for (const key of settingKeys.filter((k) =>
      [
        'rate',
        'size',
        'encoder',
        'rateControl',
        'lanes',
        'container',
        'drive',
        'subfolder',
        'pattern',
        'ceilingMinutes',
      ].includes(k),
    ))
      expect(quietReason(key, baseRecipe, game)).toBeNull();
  });
});
