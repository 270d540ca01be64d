import * as fc from 'fast-check';
import { channelPlaces, type ChannelPlace } from '@mellow/model';
import { mixToStereo, stereoMix } from './index';

const places: Record<string, ChannelPlace[]> = {
  '5.1': ['front-left', 'front-right', 'front-center', 'lfe', 'rear-left', 'rear-right'],
  '5.1 in the order of the sound system': [
    'front-left',
    'front-right',
    'rear-left',
    'rear-right',
    'front-center',
    'lfe',
  ],
  quadro: ['front-left', 'front-right', 'rear-left', 'rear-right'],
};

describe('stereo out of other channels', () => {
  // ITU-R BS.775-3, Annex 4, table 2: 3/2 to 2/0 is L + 0.7071 C + 0.7071 LS, and the same on the right.
  it.each(Object.entries(places))('%s takes the coefficients of ITU-R BS.775-3', (_, channels) => {
    const { left, right } = stereoMix(channels);
    const given = (side: readonly number[], place: ChannelPlace): number => side[channels.indexOf(place)] ?? 0;
    expect(given(left, 'front-left')).toBe(1);
    expect(given(right, 'front-left')).toBe(0);
    expect(given(right, 'front-right')).toBe(1);
    expect(given(left, 'rear-left')).toBeCloseTo(0.7071, 4);
    expect(given(right, 'rear-left')).toBe(0);
    expect(given(right, 'rear-right')).toBeCloseTo(0.7071, 4);
    if (channels.includes('front-center')) {
      expect(given(left, 'front-center')).toBeCloseTo(0.7071, 4);
      expect(given(right, 'front-center')).toBeCloseTo(0.7071, 4);
      expect([given(left, 'lfe'), given(right, 'lfe')]).toEqual([0, 0]);
    }
  });
  it('hears one surround channel from both sides at half: 0.7071 of 0.7071 (3/1 of the same table)', () => {
    const { left, right } = stereoMix(['front-left', 'front-right', 'front-center', 'rear-center']);
    expect([left[3], right[3]]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.5, 6)]);
  });
  it('gives mono whole to both sides, whatever its one channel is called', () => {
    for (const place of ['mono', 'other'] as const)
      expect(mixToStereo(Float32Array.of(0.5, -0.25), stereoMix([place]))).toEqual(
        Float32Array.of(0.5, 0.5, -0.25, -0.25),
      );
  });
  it('takes the first two of channels that say nothing of themselves', () =>
    expect(mixToStereo(Float32Array.of(0.1, 0.2, 0.3, 0.4), stereoMix(['other', 'other', 'other', 'other']))).toEqual(
      Float32Array.of(0.1, 0.2),
    ));
  it('leaves stereo as it is', () =>
    fc.assert(
      fc.property(fc.float32Array({ noNaN: true, minLength: 2, maxLength: 40 }), (values) => {
        const even = values.subarray(0, values.length - (values.length % 2));
        expect(Array.from(mixToStereo(even, stereoMix(['front-left', 'front-right'])))).toEqual(
          Array.from(even, (value) => value + 0),
        );
      }),
    ));
  it('never invents: each side is a sum of what is there, and an incomplete group at the end is left out', () =>
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...channelPlaces), { minLength: 1, maxLength: 8 }),
        fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { maxLength: 64 }),
        (channels, values) => {
          const stereo = mixToStereo(Float32Array.from(values), stereoMix(channels));
          expect(stereo).toHaveLength(Math.floor(values.length / channels.length) * 2);
          const most = channels.length * Math.max(0, ...values.map(Math.abs));
          for (const value of stereo) expect(Math.abs(value)).toBeLessThanOrEqual(most + 1e-6);
        },
      ),
    ));
});
