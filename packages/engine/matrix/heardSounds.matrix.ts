import { openTakeBench, type MadeTake, type TakeBench } from '../test/support/drivenTake';
import { probeStreams, soundLevelBySox } from '../test/support/probe';
import { openSoundSystem, stereo, type TestSoundSystem } from '../test/support/soundSystem';
import { device, lane, rollSounds } from '../test/support/soundTake';
import { levelOfTone, meanLevelOfTone, stereoOf, toneOf } from '../test/support/tones';

/** Sounds of a sound system without hardware: null sinks whose monitors are recorded. A player needs the PC for itself, or it stutters. */
jest.setTimeout(120_000);
// What a test's player loses while the PC lets nobody run is no fault of what is tried.
jest.retryTimes(2, { logErrorsBeforeRetry: true });

let sounds: TestSoundSystem;
let bench: TakeBench;
beforeAll(async () => {
  sounds = await openSoundSystem([{ name: 'one' }, { name: 'two' }, { name: 'three' }]);
  bench = await openTakeBench();
});
afterAll(async () => {
  bench.close();
  await sounds.close();
});
const roll = (...asked: Parameters<typeof rollSounds> extends [unknown, ...infer Rest] ? Rest : never) =>
  rollSounds(bench, ...asked);

describe('three outputs with a tone each', () => {
  const tones = { one: 440, two: 1000, three: 2500 };
  let take: MadeTake;
  beforeAll(async () => {
    const players = Object.entries(tones).map(([name, hz]) =>
      sounds.play(name, 48_000, stereo, toneOf(hz, 48_000, 2, -12)),
    );
    take = await roll(
      [device('game', 'one.monitor'), device('voice', 'two.monitor', { gainDb: -6 }), device('chat', 'three.monitor')],
      [lane('Everything', 'game', 'voice', 'chat'), lane('Game', 'game'), lane('Voice', 'voice'), lane('Chat', 'chat')],
    );
    await Promise.all(players.map((player) => player.stop()));
  });

  it('come onto their lanes and no other: crosstalk below -80 dB', () => {
    const kept = { 1: 440, 2: 1000, 3: 2500 };
    for (const [track, own] of Object.entries(kept)) {
      const samples = stereoOf(take.result.filePath, Number(track));
      for (const hz of Object.values(tones)) {
        const level = levelOfTone(samples, hz, 0.5, 2.5);
        if (hz === own) expect(level).toBeCloseTo(hz === 1000 ? -18 : -12, 0);
        else expect(level).toBeLessThan(-92);
      }
    }
  });
  it('are all in the mix, each at its own level', () => {
    const samples = stereoOf(take.result.filePath, 0);
    expect(levelOfTone(samples, 440, 0.5, 2.5)).toBeCloseTo(-12, 0);
    expect(levelOfTone(samples, 1000, 0.5, 2.5)).toBeCloseTo(-18, 0);
    expect(levelOfTone(samples, 2500, 0.5, 2.5)).toBeCloseTo(-12, 0);
  });
  it('keep their names and their order, by ffprobe', () =>
    expect(
      probeStreams(take.result.filePath)
        .filter(({ codec_type }) => codec_type === 'audio')
        .map(({ tags }) => tags?.['title']),
    ).toEqual(['Everything', 'Game', 'Voice', 'Chat']));
  it('are as loud as sox says', () => {
    // sox stat, "RMS amplitude": a sine of -12 dBFS peak means -15.05.
    expect(soundLevelBySox(take.result.filePath, 1)).toBeCloseTo(-15.05, 0);
    expect(soundLevelBySox(take.result.filePath, 2)).toBeCloseTo(-21.05, 0);
  });
  it('are told of in the take: rate, channels, nothing silent', () => {
    expect(take.result.sounds).toHaveLength(3);
    for (const report of take.result.sounds)
      expect(report).toMatchObject({ rateHz: 48_000, channels: 2, away: 0, silenceS: 0 });
    expect(take.result.silenceSamples.slice(0, 4)).toEqual([0, 0, 0, 0]);
  });
});

describe('a device that goes and comes back', () => {
  it('leaves its lane silent, is said within 2 s, and is heard again; nothing else is recorded meanwhile', async () => {
    await sounds.addOutput({ name: 'headset', words: 'Headset' });
    const players = [
      sounds.play('headset', 48_000, stereo, toneOf(700, 48_000, 2, -12)),
      sounds.play('one', 48_000, stereo, toneOf(9000, 48_000, 2, -12)),
    ];
    let gone: Promise<number> | null = null;
    let back: Promise<unknown> | null = null;
    const said: { atS: number; text: string }[] = [];
    let nowS = 0;
    const stop = bench.recorder().onEvent((event) => {
      if (event.type === 'log') said.push({ atS: nowS, text: event.text });
    });
    const take = await roll([device('voice', 'headset.monitor')], [lane('Voice', 'voice')], 12, (atS) => {
      nowS = atS;
      if (atS > 2.5) gone ??= sounds.remove('headset').then(() => nowS);
      if (atS > 6.5)
        back ??= sounds.addOutput({ name: 'headset', words: 'Headset' }).then(() => {
          players.push(sounds.play('headset', 48_000, stereo, toneOf(700, 48_000, 2, -12)));
        });
    }).finally(stop);
    await Promise.all(players.map((player) => player.stop()));
    await sounds.remove('headset');
    const goneS = (await gone!) ?? NaN;
    const samples = stereoOf(take.result.filePath, 0);
    expect(levelOfTone(samples, 700, 0.5, 2.4)).toBeCloseTo(-12, 0);
    expect(levelOfTone(samples, 700, goneS + 0.7, 6.4)).toBeLessThan(-80);
    expect(levelOfTone(samples, 700, 9.5, 11.5)).toBeCloseTo(-12, 0);
    // The system would have moved our stream to the other output; 10 ms of that would be -42 here.
    expect(meanLevelOfTone(samples, 9000, 0.5, 11.5)).toBeLessThan(-70);
    const away = said.find(({ text }) => text.startsWith('voice is not heard'));
    expect(away?.text).toContain('is not connected');
    expect((away?.atS ?? NaN) - goneS).toBeLessThan(2);
    expect(said.some(({ text }) => text === 'voice is heard again.')).toBe(true);
    const [report] = take.result.sounds;
    expect(report).toMatchObject({ away: 1 });
    expect(report?.silenceS).toBeGreaterThan(3);
    // The lane is as long as the picture all the same.
    expect(samples.length / 2 / 48_000).toBeCloseTo(12, 1);
  });
});

describe('what is chosen to be heard', () => {
  it('is nothing while muted, closed or not held, and comes and goes without a click while its key is', async () => {
    const player = sounds.play('one', 48_000, stereo, toneOf(1000, 48_000, 2, -12));
    const inputs = [
      device('game', 'one.monitor', { muted: true }),
      device('voice', 'one.monitor', { opening: 'held' }),
      device('chat', 'one.monitor', { opening: 'closed' }),
    ];
    const take = await roll(inputs, [lane('A', 'game'), lane('B', 'voice'), lane('C', 'chat')], 4, (atS) =>
      bench.recorder().hold('voice', atS > 1.5 && atS < 2.7),
    );
    await player.stop();
    const levels = [0, 1, 2].map((track) => stereoOf(take.result.filePath, track));
    for (const silent of [levels[0]!, levels[2]!]) expect(silent.every((value) => value === 0)).toBe(true);
    expect(levelOfTone(levels[1]!, 1000, 0.2, 1.2)).toBeLessThan(-90);
    expect(levelOfTone(levels[1]!, 1000, 2, 2.4)).toBeCloseTo(-12, 0);
    expect(levelOfTone(levels[1]!, 1000, 3.4, 3.9)).toBeLessThan(-90);
    // A click is a step that a tone of 1 kHz and -12 dBFS cannot take.
    const most = 2 * Math.sin((Math.PI * 1000) / 48_000) * 10 ** (-12 / 20) * 1.05;
    let largest = 0;
    for (let i = 2; i < levels[1]!.length; i++)
      largest = Math.max(largest, Math.abs(levels[1]![i]! - levels[1]![i - 2]!));
    expect(largest).toBeLessThan(most);
  });
});
