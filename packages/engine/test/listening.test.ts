import { openDeviceFeed, startListener, type Listener } from '@mellow/engine';
import type { HeardLevels, SoundInput, SoundSource } from '@mellow/model';
import { openPulseFeed } from '../src/sound/pulseFeed';
import { askPulse, deviceTap } from '../src/sound/pulseList';
import { watchPulse } from '../src/sound/pulseWatch';
import { openSoundSystem, stereo, type TestSoundSystem } from './support/soundSystem';
import { toneOf } from './support/tones';

const input = (id: SoundSource, from: SoundInput['from'], change: Partial<SoundInput> = {}): SoundInput => ({
  id,
  name: id,
  from,
  gainDb: 0,
  muted: false,
  opening: 'open',
  ...change,
});
const device = (name: string): SoundInput['from'] => ({ kind: 'device', device: name, words: name });

/** The first levels that are as wanted. */
function until(listener: Listener, wanted: (levels: HeardLevels) => boolean): Promise<HeardLevels> {
  return new Promise((resolve) => listener.onLevels((levels) => wanted(levels) && resolve(levels)));
}
const levelOf = (levels: HeardLevels, id: SoundSource) => levels.sounds.find((sound) => sound.id === id);

describe('listening before anything rolls', () => {
  let sounds: TestSoundSystem;
  let listener: Listener;
  beforeAll(async () => {
    sounds = await openSoundSystem([{ name: 'one' }, { name: 'two' }]);
    listener = await startListener();
  });
  afterAll(async () => {
    listener.close();
    await sounds.close();
  });

  it('asks the sound system where its sounds changed, and never because somebody asked', async () => {
    let told = 0;
    const watch = watchPulse(() => {
      told++;
      void askPulse();
    });
    const tap = deviceTap(await askPulse(), 'one.monitor', 'one');
    if (typeof tap === 'string') throw new Error(tap);
    let samples = 0;
    await new Promise<void>((resolve, reject) => {
      const feed = openPulseFeed(tap, {
        begins: () => {},
        samples(heard) {
          samples += heard.length / 2;
          if (samples < 2 * tap.rateHz) return;
          feed.stop();
          resolve();
        },
        ended: reject,
      });
    });
    watch.stop();
    // Once at the start, once as the feed came; programs that ask come and go eight times a second otherwise.
    expect(told).toBeGreaterThan(0);
    expect(told).toBeLessThan(4);
  });

  it('shows each sound and each lane alive at its level, gains and mutes and all', async () => {
    const players = [
      sounds.play('one', 48_000, stereo, toneOf(1000, 48_000, 2, -20)),
      sounds.play('two', 48_000, stereo, toneOf(500, 48_000, 2, -20)),
    ];
    listener.listenTo(
      {
        who: '',
        sounds: [
          input('game', device('one.monitor')),
          input('voice', device('two.monitor'), { gainDb: 6 }),
          input('chat', device('two.monitor'), { muted: true }),
          input('music', { kind: 'practice', part: 'game' }),
        ],
        lanes: [['game', 'voice'], ['chat']],
      },
      null,
    );
    const levels = await until(
      listener,
      (now) => (levelOf(now, 'voice')?.rmsDbfs ?? -99) > -17.2 && (levelOf(now, 'game')?.rmsDbfs ?? -99) > -23.2,
    );
    expect(levelOf(levels, 'game')).toMatchObject({ state: 'alive', peakDbfs: expect.closeTo(-20, 0) });
    // A sine's mean is 3.01 dB under its peak.
    expect(levelOf(levels, 'game')?.rmsDbfs).toBeCloseTo(-23, 0);
    expect(levelOf(levels, 'voice')).toMatchObject({ state: 'alive', peakDbfs: expect.closeTo(-14, 0) });
    expect(levelOf(levels, 'chat')?.peakDbfs).toBeNull();
    expect(levelOf(levels, 'music')?.state).toBe('alive');
    // Two sines of 0.1 and 0.2 reach 0.3 together: -10.5 dBFS.
    const [mix, muted] = levels.lanes;
    expect(mix?.peakDbfs).toBeGreaterThan(-12.5);
    expect(mix?.peakDbfs).toBeLessThan(-10);
    expect(muted?.peakDbfs).toBeNull();
    const heard = await listener.lastHeard(0);
    expect(heard.length).toBeGreaterThan(4800);
    expect(heard.some((value) => Math.abs(value) > 3000)).toBe(true);
    expect(await listener.lastHeard(7)).toHaveLength(0);
    await Promise.all(players.map((player) => player.stop()));
  });
  it('a level that is changed opens no device anew', async () => {
    const player = sounds.play('one', 48_000, stereo, toneOf(1000, 48_000, 2, -20));
    const to = (gainDb: number) => ({ who: '', sounds: [input('game', device('one.monitor'), { gainDb })], lanes: [] });
    listener.listenTo(to(0), null);
    await until(listener, (now) => now.sounds.length === 1 && (levelOf(now, 'game')?.peakDbfs ?? -99) > -25);
    const streams = () => sounds.pactl('list', 'short', 'source-outputs');
    const before = await streams();
    listener.listenTo(to(-12), null);
    await until(listener, (now) => Math.abs((levelOf(now, 'game')?.peakDbfs ?? 0) + 32) < 1);
    expect(await streams()).toBe(before);
    await player.stop();
  });
  it('says what does not come, and why', async () => {
    listener.listenTo(
      {
        who: '',
        sounds: [
          input('voice', device('unplugged')),
          input('chat', { kind: 'program', program: 'nobody' }),
          input('game', { kind: 'page', what: 'microphone' }),
        ],
        lanes: [['voice']],
      },
      { address: `\0mellow-nobody-${process.pid}`, token: 'x' },
    );
    const levels = await until(
      listener,
      (now) => now.sounds.length === 3 && now.sounds.every(({ state }) => state === 'away'),
    );
    expect(levelOf(levels, 'voice')?.why).toBe('unplugged is not connected to this PC now.');
    expect(levelOf(levels, 'chat')?.why).toBe('nobody plays nothing now.');
    expect(levelOf(levels, 'game')?.why).toContain('open it on Sound');
  });
});

describe('a device by the library', () => {
  /** FFmpeg's own generator stands in for a microphone: the same calls, another device. */
  const generator = (address: string) => ({ format: 'lavfi' as const, address, options: {} });
  function heardOf(address: string): Promise<{ rateHz: number; channels: number; peak: number }> {
    return new Promise((resolve, reject) => {
      let format = { rateHz: 0, channels: 0 };
      const feed = openDeviceFeed(generator(address), {
        begins: (given) => (format = { rateHz: given.rateHz, channels: given.channels.length }),
        samples(samples) {
          feed.stop();
          resolve({ ...format, peak: samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0) });
        },
        ended: (why) => reject(new Error(why)),
      });
    });
  }
  it.each([
    ['sine=frequency=440:sample_rate=44100,aformat=sample_fmts=s16', 44_100, 1],
    ['aevalsrc=0.25*sin(880*PI*t)|0.25*sin(880*PI*t):s=48000,aformat=sample_fmts=flt', 48_000, 2],
    ['aevalsrc=0.25*sin(880*PI*t):s=16000,aformat=sample_fmts=s32', 16_000, 1],
  ])('%s brings its samples in its own rate and channels', async (address, rateHz, channels) => {
    const heard = await heardOf(address);
    expect(heard).toMatchObject({ rateHz, channels });
    expect(heard.peak).toBeGreaterThan(0.05);
    expect(heard.peak).toBeLessThanOrEqual(1);
  });
  it('that is not there ends with a reason', () => expect(heardOf('nosuchsource')).rejects.toThrow(/cannot be opened/));
});
