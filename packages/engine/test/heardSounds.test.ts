import type { Lane, SoundInput, SoundSource } from '@mellow/model';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';
import { probeStreams, soundLevelBySox } from './support/probe';
import { clickOffsets } from './support/soundTiming';
import { openSoundSystem, stereo, type TestSoundSystem } from './support/soundSystem';
import { levelOfTone, stereoOf, toneOf } from './support/tones';

/** Sounds of a sound system without hardware: null sinks whose monitors are recorded. */
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

const device = (id: SoundSource, name: string, change: Partial<SoundInput> = {}): SoundInput => ({
  id,
  name: id,
  from: { kind: 'device', device: name, words: '' },
  gainDb: 0,
  muted: false,
  opening: 'open',
  ...change,
});
const lane = (name: string, ...sources: SoundSource[]): Lane => ({ name, sources, codec: 'flac', bitrateKbps: 160 });

/** Rolls the practice game's pictures with sounds from outside. */
function roll(
  inputs: SoundInput[],
  lanes: Lane[],
  seconds = 3,
  meanwhile?: (atS: number) => void,
  leadIn: 'none' | 'silence' = 'none',
): Promise<MadeTake> {
  const stop = bench.recorder().onEvent((event) => {
    if (event.type === 'live' && event.live.state === 'rolling') meanwhile?.(event.live.elapsedUs / 1e6);
  });
  return bench
    .make({
      recipe: { rate: { num: 30, den: 1 }, sounds: inputs, lanes, leadIn },
      size: { widthPx: 320, heightPx: 180 },
      game: { widthPx: 320, heightPx: 180 },
      order: { clock: 'real', dueFrames: seconds * 30 },
    })
    .finally(stop);
}

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

describe('other formats', () => {
  it.each([
    ['44.1 kHz', 'cd', 44_100, 'front-left,front-right'],
    ['96 kHz', 'fine', 96_000, 'front-left,front-right'],
    ['mono at 44.1 kHz', 'single', 44_100, 'mono'],
    ['mono at 16 kHz', 'headset', 16_000, 'mono'],
  ])('%s becomes 48 kHz stereo at the same pitch and level', async (_, name, rateHz, channels) => {
    await sounds.addOutput({ name, rateHz, channels });
    const count = channels.split(',').length;
    const player = sounds.play(name, rateHz, channels, toneOf(997, rateHz, count, -12));
    const take = await roll([device('game', `${name}.monitor`)], [lane('Game', 'game')]);
    await player.stop();
    await sounds.remove(name);
    const samples = stereoOf(take.result.filePath, 0);
    for (const side of [0, 1] as const) expect(levelOfTone(samples, 997, 0.5, 2.5, side)).toBeCloseTo(-12, 0);
    expect(take.result.sounds[0]).toMatchObject({ rateHz, channels: count });
  });
  it('5.1 is mixed down by ITU-R BS.775: the centre at 0.7071 on both sides, low frequencies left out', async () => {
    const channels = 'front-left,front-right,front-center,lfe,rear-left,rear-right';
    await sounds.addOutput({ name: 'film', channels });
    const hz = [300, 500, 700, 60, 1100, 1300];
    const each = hz.map((one) => toneOf(one, 48_000, 1, -20));
    const six = Float32Array.from({ length: 48_000 * 6 }, (__, i) => each[i % 6]![Math.floor(i / 6)]!);
    const player = sounds.play('film', 48_000, channels, six);
    const take = await roll([device('game', 'film.monitor')], [lane('Game', 'game')]);
    await player.stop();
    await sounds.remove('film');
    const samples = stereoOf(take.result.filePath, 0);
    const level = (at: number, side: 0 | 1) => levelOfTone(samples, hz[at]!, 0.5, 2.5, side);
    expect(level(0, 0)).toBeCloseTo(-20, 0);
    expect(level(1, 1)).toBeCloseTo(-20, 0);
    for (const side of [0, 1] as const) {
      expect(level(2, side)).toBeCloseTo(-23.01, 0);
      expect(level(3, side)).toBeLessThan(-85);
    }
    expect(level(4, 0)).toBeCloseTo(-23.01, 0);
    expect(level(5, 1)).toBeCloseTo(-23.01, 0);
    expect(level(0, 1)).toBeLessThan(-85);
    expect(level(4, 1)).toBeLessThan(-85);
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
    expect(levelOfTone(samples, 9000, 0.5, 11.5)).toBeLessThan(-70);
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
  it('is one program alone where that was chosen', async () => {
    const players = [
      sounds.play('one', 48_000, stereo, toneOf(440, 48_000, 2, -12), 'Other player'),
      sounds.play('one', 48_000, stereo, toneOf(1000, 48_000, 2, -12), 'Music box'),
    ];
    await untilPlaying(2);
    const programs = await sounds.pactl('list', 'short', 'sink-inputs');
    expect(programs.split('\n')).toHaveLength(2);
    const from = { kind: 'program', program: 'pacat' } as const;
    const take = await roll([{ ...device('music', ''), from }], [lane('Music', 'music')]);
    await Promise.all(players.map((player) => player.stop()));
    const samples = stereoOf(take.result.filePath, 0);
    // Of two streams of one program it is the newest.
    expect(levelOfTone(samples, 1000, 0.5, 2.5)).toBeCloseTo(-12, 0);
    expect(levelOfTone(samples, 440, 0.5, 2.5)).toBeLessThan(-80);
  });
  it('follows the output in use', async () => {
    await sounds.pactl('set-default-sink', 'two');
    const players = [
      sounds.play('two', 48_000, stereo, toneOf(1000, 48_000, 2, -12)),
      sounds.play('three', 48_000, stereo, toneOf(2500, 48_000, 2, -12)),
    ];
    let switched: Promise<unknown> | null = null;
    const take = await roll([device('game', '@heard')], [lane('Game', 'game')], 6, (atS) => {
      if (atS > 2) switched ??= sounds.pactl('set-default-sink', 'three');
    });
    await Promise.all(players.map((player) => player.stop()));
    await sounds.pactl('set-default-sink', 'one');
    const samples = stereoOf(take.result.filePath, 0);
    expect(levelOfTone(samples, 1000, 0.3, 1.8)).toBeCloseTo(-12, 0);
    expect(levelOfTone(samples, 2500, 4, 5.8)).toBeCloseTo(-12, 0);
    // What was played to the other output before moves along, as the system has it.
    expect(levelOfTone(samples, 2500, 0.3, 1.8)).toBeLessThan(-80);
    expect(take.log).toContain('game comes from three now.');
  });
  it('is a microphone where one is connected, and never an output’s monitor instead', async () => {
    const none = await roll([device('voice', '@microphone')], [lane('Voice', 'voice')], 2);
    expect(none.log.join()).toContain('No microphone is connected');
    expect(none.result.sounds[0]?.silenceS).toBeCloseTo(2, 0);
    await sounds.addMicrophone({ name: 'desk', channels: 'mono', words: 'Desk microphone' });
    const player = sounds.play('desk-in', 48_000, 'mono', toneOf(300, 48_000, 1, -20));
    const take = await roll([device('voice', '@microphone')], [lane('Voice', 'voice')], 3, undefined, 'silence');
    await player.stop();
    await sounds.remove('desk');
    const samples = stereoOf(take.result.filePath, 0);
    for (const side of [0, 1] as const) expect(levelOfTone(samples, 300, 0.5, 2.5, side)).toBeCloseTo(-20, 0);
    // The lead-in's quiet second: here the tone is all there is, 3 dB under its peak.
    expect(take.result.sounds[0]?.floorDbfs).toBeCloseTo(-23, 0);
  });
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
    for (let i = 2; i < levels[1]!.length; i++)
      expect(Math.abs(levels[1]![i]! - levels[1]![i - 2]!)).toBeLessThan(most);
  });
});

async function untilPlaying(count: number): Promise<void> {
  while ((await sounds.pactl('list', 'short', 'sink-inputs')).split('\n').filter(Boolean).length < count)
    await new Promise((resolve) => setTimeout(resolve, 50));
}

describe('time', () => {
  it('of a click in the file is when it was heard, within half a frame at 60 fps, all along', async () => {
    const { offsetsMs } = await clickOffsets(sounds, bench, 'two', 10);
    expect(offsetsMs.length).toBeGreaterThanOrEqual(9);
    // The listener beside hears each chunk as late as the PC lets it: the middle one tells, and none may run away.
    const sorted = offsetsMs.toSorted((a, b) => a - b);
    expect(Math.abs(sorted[sorted.length >> 1]!)).toBeLessThan(1000 / 60 / 2);
    for (const off of offsetsMs) expect(Math.abs(off)).toBeLessThan(1000 / 30);
  });
});
