import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import { soaks } from './soak';
import { openSoundSystem, stereo, type TestSoundSystem } from '../test/support/soundSystem';
import { device, lane, rollSounds, rollSoundsOnce, undisturbed } from '../test/support/soundTake';
import { clickOffsets } from '../test/support/soundTiming';
import { levelOfTone, stereoOf, toneOf } from '../test/support/tones';

/** Sounds of devices: every format, every way to choose one, and takes that are long enough to drift. */
jest.setTimeout(400_000);
// What a test's player loses while the PC lets nobody run is no fault of what is tried.
jest.retryTimes(2, { logErrorsBeforeRetry: true });

let sounds: TestSoundSystem;
let bench: TakeBench;
beforeAll(async () => {
  sounds = await openSoundSystem([{ name: 'one' }, { name: 'two' }, { name: 'three' }, { name: 'cd', rateHz: 44_100 }]);
  bench = await openTakeBench();
});
afterAll(async () => {
  bench.close();
  await sounds.close();
});
const roll = (...asked: Parameters<typeof rollSounds> extends [unknown, ...infer Rest] ? Rest : never) =>
  rollSounds(bench, ...asked);

describe('other formats', () => {
  it.each([
    ['44.1 kHz', 'disc', 44_100, 'front-left,front-right'],
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
    // Players are moved along with the output in use: a take that is made again needs them where they were.
    const take = await undisturbed(async () => {
      await sounds.pactl('set-default-sink', 'two');
      const players = [
        sounds.play('two', 48_000, stereo, toneOf(1000, 48_000, 2, -12)),
        sounds.play('three', 48_000, stereo, toneOf(2500, 48_000, 2, -12)),
      ];
      let switched: Promise<unknown> | null = null;
      const made = await rollSoundsOnce(bench, [device('game', '@heard')], [lane('Game', 'game')], 6, (atS) => {
        if (atS > 2) switched ??= sounds.pactl('set-default-sink', 'three');
      });
      await Promise.all(players.map((player) => player.stop()));
      return made;
    });
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
});
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

const median = (values: readonly number[]): number => values.toSorted((a, b) => a - b)[values.length >> 1] ?? NaN;

/** Long enough that clocks which run apart are heard to. */
const longS = soaks ? 125 : 45;

it(`of two takes at once, outputs at 48 and 44.1 kHz, is in step with the picture within one frame at the start and after ${longS} s`, async () => {
  const other = await openTakeBench();
  const both = await Promise.all([
    clickOffsets(sounds, bench, 'one', longS),
    clickOffsets(sounds, other, 'cd', longS),
  ]).finally(other.close);
  for (const { offsetsMs, driftPpm, heardDriftPpm } of both) {
    expect(offsetsMs.length).toBeGreaterThan(longS - 10);
    const [start, end] = [median(offsetsMs.slice(0, 9)), median(offsetsMs.slice(-9))];
    expect(Math.abs(start)).toBeLessThan(1000 / 60);
    expect(Math.abs(end)).toBeLessThan(1000 / 60);
    // The sound system without hardware counts its blocks in whole microseconds: 40 to 50 ppm fast where a player is half a
    // second ahead, as a listener alone found. A drift is told only where it is more than a busy minute makes up.
    if (driftPpm !== null) expect(Math.abs(driftPpm - heardDriftPpm)).toBeLessThan(30);
  }
});

async function untilPlaying(count: number): Promise<void> {
  while ((await sounds.pactl('list', 'short', 'sink-inputs')).split('\n').filter(Boolean).length < count)
    await new Promise((resolve) => setTimeout(resolve, 50));
}
