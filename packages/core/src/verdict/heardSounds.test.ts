import type { Recipe, SoundReport, Take } from '@mellow/model';
import { lossRuns } from '../ledger';
import { testLedger } from '../ledger/testLedger.test-support';
import { verdictOf } from './index';
import { testRecipe, testSecond, testTake } from './testTake.test-support';

const rate = { num: 60, den: 1 };
const report = (change: Partial<SoundReport> = {}): SoundReport => ({
  id: 'voice',
  name: 'Microphone',
  rateHz: 48_000,
  channels: 1,
  driftPpm: null,
  away: 0,
  silenceS: 0,
  floorDbfs: null,
  ...change,
});
const plain = (text: string) => text.replaceAll('\u2009', ' ');
const judge = (change: Partial<Take>, seconds = [testSecond(4)]) => {
  const columns = testLedger(rate, Array(600).fill('new'));
  return verdictOf(testTake(columns, change, seconds), lossRuns(columns));
};
const heard = (change: Partial<Take>) => judge(change).facts.find(({ name }) => name === 'Heard');
const finding = (change: Partial<Take>, id: string) => judge(change).findings.find((one) => one.id.startsWith(id));

describe('sounds from outside, in the verdict', () => {
  it('are a fact where there were any', () => {
    expect(heard({ sounds: [] })).toBeUndefined();
    expect(heard({ sounds: [report()] })).toEqual({ name: 'Heard', asked: 'Microphone', found: '48 kHz', holds: true });
  });
  it.each<[Partial<SoundReport>, string]>([
    [{ rateHz: 44_100 }, '44.1 kHz resampled'],
    [{ driftPpm: 31.4 }, '48 kHz, clock 31 ppm fast, made up for'],
    [{ driftPpm: -12.6 }, '48 kHz, clock 13 ppm slow, made up for'],
    [{ driftPpm: 0.3 }, '48 kHz'],
    [{ floorDbfs: -61.8 }, '48 kHz, quiet at −61.8 dBFS'],
    [{ rateHz: 0, silenceS: 10 }, 'nothing came'],
  ])('%j is found as "%s"', (change, words) => expect(heard({ sounds: [report(change)] })?.found).toBe(words));
  it('do not hold where one was missing, and the take is looked at again', () => {
    const verdict = judge({ sounds: [report({ away: 2, silenceS: 3.25 })] });
    expect(verdict.mark).toBe('look');
    expect(plain(verdict.sentence)).toBe('Look again. Microphone was not heard for 3.25 s.');
    const away = finding({ sounds: [report({ away: 2, silenceS: 3.25 })] }, 'sound-away');
    expect(away).toMatchObject({ tone: 'loss' });
    expect(away?.title.replaceAll('\u2009', ' ')).toBe('Microphone was not heard for 3.25 s');
    expect(away?.text).toContain('2 times');
  });
  it('that came too late say so, and blame the busy PC', () =>
    expect(finding({ sounds: [report({ silenceS: 0.2 })] }, 'sound-away')?.change).toBe(
      'Close what keeps the PC busy.',
    ));
  it('a moment of silence that nobody hears is no finding', () =>
    expect(finding({ sounds: [report({ silenceS: 0.01 })] }, 'sound-away')).toBeUndefined());
  it('a loud room is told of a voice, not of a game', () => {
    expect(finding({ sounds: [report({ floorDbfs: -42 })] }, 'noisy')?.title).toContain('−42.0 dBFS');
    expect(finding({ sounds: [report({ id: 'game', floorDbfs: -20 })] }, 'noisy')).toBeUndefined();
    expect(finding({ sounds: [report({ floorDbfs: -62 })] }, 'noisy')).toBeUndefined();
  });
});

describe('a lane that is silent from beginning to end', () => {
  const recipe: Recipe = { ...testRecipe };
  const silent = recipe.lanes.map((_, i) => (i === 1 ? null : -12));
  const found = (change: Partial<Recipe>, sounds: SoundReport[] = []) => {
    const seconds = [{ ...testSecond(4), lanePeakDbfs: silent }];
    return judge({ recipe: { ...recipe, ...change }, sounds }, seconds).findings.filter(({ id }) =>
      id.startsWith('silent-lane'),
    );
  };
  it('is told by its name', () =>
    expect(found({}).map(({ title }) => title)).toEqual(['Voice is silent from beginning to end']));
  it('is no finding where it was wanted so', () =>
    expect(
      found({ sounds: recipe.sounds.map((sound) => (sound.id === 'voice' ? { ...sound, muted: true } : sound)) }),
    ).toEqual([]));
  it('is not told twice where its device was away', () => expect(found({}, [report({ silenceS: 10 })])).toEqual([]));
});
