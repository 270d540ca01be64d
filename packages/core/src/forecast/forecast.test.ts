import { laneBitsPerSecond } from '../codec';
import { testLedger } from '../ledger/testLedger.test-support';
import { testRecipe, testTake } from '../verdict/testTake.test-support';
import { forecastOf, secondsLostIfKilled } from './index';

const sound = testRecipe.lanes.reduce((sum, lane) => sum + laneBitsPerSecond(lane), 0);
const trial = testTake(testLedger({ num: 60, den: 1 }, Array(600).fill('new')));
const withQuality = (quality: number) => ({ ...testRecipe, encode: { ...testRecipe.encode, quality } });

describe('the forecast', () => {
  it('takes a set bitrate as it is, sound added per lane (PCM 48 kHz 16 bit stereo: 1 536 kb/s, facts.md)', () => {
    expect(laneBitsPerSecond({ codec: 'pcm', bitrateKbps: 320 })).toBe(1_536_000);
    const recipe = { ...testRecipe, encode: { ...testRecipe.encode, rateControl: 'constant-bitrate' as const, bitrateKbps: 9000 } };
    expect(forecastOf(recipe, []).bitsPerSecond?.value).toBe(9e6 + sound);
  });
  it('knows nothing of a quality number before a trial', () => expect(forecastOf(testRecipe, [])).toMatchObject({ bitsPerSecond: null, origin: 'none', loadsFrom: null }));
  it('measures at the same number, and scales over at most 6 steps', () => {
    const measured = (2.5e6 * 8) / 10;
    expect(forecastOf(testRecipe, [trial]).bitsPerSecond?.value).toBeCloseTo(measured + sound, 0);
    const six = forecastOf(withQuality(26), [trial]);
    expect(six.bitsPerSecond?.value).toBeCloseTo(measured / 2 + sound, 0);
    expect(six.bitsPerSecond?.low).toBeCloseTo(measured * 0.43 + sound, 0);
    expect(forecastOf(withQuality(27), [trial]).origin).toBe('none');
  });
  it('does not carry a rate to another picture, and takes loads from the last trial either way', () => {
    const small = { ...testRecipe, size: { ...testRecipe.size, widthPx: 640, heightPx: 360 } };
    const forecast = forecastOf(small, [trial, { ...trial, id: 'older', createdAt: '2026-01-01T00:00:00Z' }]);
    expect(forecast.bitsPerSecond).toBeNull();
    expect(forecast.loadsFrom?.id).toBe('t');
    expect(forecast.loadsAreOfThisRecipe).toBe(false);
  });
  it('takes no loads from a disturbed trial, and still its size', () => {
    const disturbed = { ...trial, id: 'd', createdAt: '2026-12-01T00:00:00Z', summary: { ...trial.summary!, disturbed: true } };
    expect(forecastOf(testRecipe, [disturbed, trial]).loadsFrom?.id).toBe('t');
    expect(forecastOf(testRecipe, [disturbed])).toMatchObject({ loadsFrom: null, origin: 'measured' });
  });
  it('says what a dying recorder costs', () => {
    expect(secondsLostIfKilled(testRecipe)).toBeCloseTo(1.5 + 4 / 60, 6);
    expect(secondsLostIfKilled({ ...testRecipe, container: 'mp4' })).toBeNull();
    expect(secondsLostIfKilled({ ...testRecipe, encode: { ...testRecipe.encode, effort: 'most-thorough' } })).toBeGreaterThan(2);
  });
});
