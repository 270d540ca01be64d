import {
  createLoudnessMeter,
  dbOf,
  gameUnderVoiceZone,
  peakOf,
  rmsOf,
  voiceAboveDb,
  voiceZone,
  zoneWords,
} from './index';

/** Stereo sine. */
function sine(hz: number, peakDbfs: number, seconds: number, sides: readonly [number, number] = [1, 1]): Float32Array {
  const samples = new Float32Array(48_000 * seconds * 2);
  const level = 10 ** (peakDbfs / 20);
  for (let i = 0; i < samples.length / 2; i++) {
    const value = level * Math.sin((2 * Math.PI * hz * i) / 48_000);
    samples[i * 2] = value * sides[0];
    samples[i * 2 + 1] = value * sides[1];
  }
  return samples;
}
const lufsOf = (samples: Float32Array): number | null => {
  const meter = createLoudnessMeter();
  for (let at = 0; at < samples.length; at += 960) meter.add(samples.subarray(at, at + 960));
  return meter.shortTermLufs();
};

describe('short-term loudness', () => {
  // EBU Tech 3341, minimum requirements 1 and 2: a stereo sine of 1 kHz reads its own peak level, within 0.1.
  it.each([-23, -33])('of a stereo sine of 1 kHz at %d dBFS is that (EBU Tech 3341)', (db) =>
    expect(Math.abs((lufsOf(sine(1000, db, 20)) ?? 0) - db)).toBeLessThan(0.1),
  );
  // ITU-R BS.1770-4, section 2: a 0 dBFS sine of 997 Hz on one side reads -3.01.
  it('of a full sine of 997 Hz on one side is -3.01 (ITU-R BS.1770-4)', () =>
    expect(Math.abs((lufsOf(sine(997, 0, 5, [1, 0])) ?? 0) + 3.01)).toBeLessThan(0.02));
  it('forgets what is more than 3 s ago', () => {
    const meter = createLoudnessMeter();
    meter.add(sine(1000, -10, 5));
    meter.add(sine(1000, -30, 4));
    expect(Math.abs((meter.shortTermLufs() ?? 0) + 30)).toBeLessThan(0.1);
  });
  it('is not there in silence, nor before the first tenth of a second', () => {
    expect(lufsOf(new Float32Array(48_000))).toBeNull();
    expect(lufsOf(sine(1000, -20, 0.05))).toBeNull();
  });
});

describe('levels', () => {
  it('a full sine peaks at 0 and means -3.01 dBFS', () => {
    const samples = sine(997, 0, 1);
    expect(dbOf(peakOf(samples))).toBeCloseTo(0, 2);
    expect(dbOf(rmsOf(samples))).toBeCloseTo(-3.01, 2);
  });
  it('of nothing are nothing', () => {
    expect(dbOf(peakOf(new Float32Array(10)))).toBeNull();
    expect(rmsOf([])).toBe(0);
  });
  it('are told against their zone', () => {
    expect(zoneWords(-12, voiceZone)).toBe('in its zone');
    expect(zoneWords(-21.8, gameUnderVoiceZone)).toBe('2.2 dB above');
    expect(zoneWords(-33, gameUnderVoiceZone)).toBe('3.0 dB below');
    expect(zoneWords(null, voiceZone)).toBe('silent');
  });
  it('a voice in its zone stands 9 dB and more above a game in its own', () =>
    expect(voiceAboveDb).toEqual({ least: 9, most: 21 }));
});
