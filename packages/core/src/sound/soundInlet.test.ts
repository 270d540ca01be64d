import * as fc from 'fast-check';
import { randomStream } from '../units/randomStream';
import { createDeviceClock, createSoundInlet, type SoundInlet } from './index';

const blockUs = 10_000;
const mono = ['mono'] as const;

interface Device {
  rateHz: number;
  driftPpm: number;
  chunkMs: number;
  /** Longest that a chunk is late beyond the shortest way. */
  jitterMs: number;
  startUs: number;
}

/** A saw of ten seconds: the value tells when a sample was taken. */
const sawUs = 10_000_000;
const saw = (us: number): number => (us % sawUs) / sawUs;

/** Chunks of a device, and when they arrive. */
function* chunksOf(device: Device, untilUs: number, random: () => number, valueAt: (us: number) => number = saw) {
  const periodUs = 1e6 / (device.rateHz * (1 + device.driftPpm / 1e6));
  const samples = Math.round((device.rateHz * device.chunkMs) / 1000);
  let lastUs = 0;
  for (let n = 0; ; n += samples) {
    const endUs = device.startUs + (n + samples) * periodUs;
    if (endUs > untilUs) return;
    const arrivalUs = Math.max(lastUs, endUs + random() * device.jitterMs * 1000);
    lastUs = arrivalUs;
    yield {
      arrivalUs,
      values: Float32Array.from({ length: samples }, (_, i) => valueAt(device.startUs + (n + i) * periodUs)),
    };
  }
}

/** How far the middle of a block is from its time; around the saw's tooth it cannot be told. */
function note(startUs: number, block: Float32Array, offUs: number[]): void {
  const middleUs = (startUs + blockUs / 2) % sawUs;
  if (middleUs > 100_000 && middleUs < sawUs - 100_000) offUs.push((block[480] ?? 0) * sawUs - middleUs);
}

/** Reads every block as soon as it may be there, and tells how far each block's time is off, microseconds. */
function followed(device: Device, untilUs: number, seed: number): { offUs: number[]; inlet: SoundInlet } {
  const inlet = createSoundInlet({ rateHz: device.rateHz, channels: mono });
  const into = new Float32Array(960);
  const offUs: number[] = [];
  let nextUs = 2_000_000;
  for (const { arrivalUs, values } of chunksOf(device, untilUs, randomStream(seed))) {
    inlet.push(values, arrivalUs);
    while (nextUs + blockUs < arrivalUs && inlet.read(nextUs, into)) {
      note(nextUs, into, offUs);
      nextUs += blockUs;
    }
  }
  return { offUs, inlet };
}

const device = (change: Partial<Device> = {}): Device => ({
  rateHz: 48_000,
  driftPpm: 0,
  chunkMs: 20,
  jitterMs: 3,
  startUs: 0,
  ...change,
});

describe('a device on the picture’s clock', () => {
  it.each([
    device(),
    device({ driftPpm: 150 }),
    device({ driftPpm: -300, rateHz: 44_100 }),
    device({ driftPpm: 80, rateHz: 96_000, chunkMs: 5 }),
    device({ rateHz: 16_000, chunkMs: 64, jitterMs: 12 }),
  ])(
    'stays within a third of a frame for minutes, and nowhere drifts: $rateHz Hz, $driftPpm ppm, $jitterMs ms late',
    (given) => {
      const untilUs = given.driftPpm === 150 ? 60e6 : 20e6;
      const { offUs, inlet } = followed(given, untilUs, 7);
      expect(offUs.length).toBeGreaterThan((untilUs / 10_000 - 200) * 0.97);
      const settled = offUs.slice(300);
      // At 60 fps a third of a frame is 5.6 ms; the longest part of it is the chunks' own lateness.
      for (const off of settled) expect(Math.abs(off)).toBeLessThan(5600);
      // The mean of the last ten seconds is that of ten seconds near the beginning.
      const mean = (from: number, to: number) =>
        settled.slice(from, to).reduce((sum, off) => sum + off, 0) / (to - from);
      expect(Math.abs(mean(settled.length - 1000, settled.length) - mean(0, 1000))).toBeLessThan(1000);
      expect(inlet.jumps()).toBe(0);
    },
  );
  it('says nothing of a drift that it cannot know yet', () =>
    expect(followed(device({ driftPpm: 100 }), 5e6, 3).inlet.driftPpm()).toBeNull());
  it('is silent before the device began, and in step afterwards', () => {
    const inlet = createSoundInlet({ rateHz: 48_000, channels: mono });
    const into = new Float32Array(960);
    for (const { arrivalUs, values } of chunksOf(device({ startUs: 1e6, jitterMs: 0 }), 3e6, Math.random))
      inlet.push(values, arrivalUs);
    expect(inlet.read(500_000, into)).toBe(true);
    expect(into.every((value) => value === 0)).toBe(true);
    expect(inlet.read(2_000_000, into)).toBe(true);
    expect((into[480] ?? 0) * sawUs).toBeCloseTo(2_005_000, -3);
  });
  it('gives nothing of what has not arrived', () => {
    const inlet = createSoundInlet({ rateHz: 48_000, channels: mono });
    const into = new Float32Array(960);
    expect(inlet.read(0, into)).toBe(false);
    inlet.push(new Float32Array(960), 20_000);
    expect(inlet.read(15_000, into)).toBe(false);
    expect(inlet.read(0, into)).toBe(true);
  });
  it('begins anew after a gap, silent in between, and is in step at once', () => {
    const inlet = createSoundInlet({ rateHz: 48_000, channels: mono });
    const into = new Float32Array(960);
    const feed = (startUs: number, untilUs: number) => {
      for (const { arrivalUs, values } of chunksOf(device({ startUs, jitterMs: 0 }), untilUs, Math.random))
        inlet.push(values, arrivalUs);
    };
    feed(0, 2e6);
    expect(inlet.read(1_000_000, into)).toBe(true);
    feed(6e6, 9e6);
    expect(inlet.read(4_000_000, into)).toBe(true);
    expect(into.every((value) => value === 0)).toBe(true);
    expect(inlet.read(8_000_000, into)).toBe(true);
    expect((into[480] ?? 0) * sawUs).toBeCloseTo(8_005_000, -3);
  });
  it('puts samples that were lost on the way right again, in one jump', () => {
    const inlet = createSoundInlet({ rateHz: 48_000, channels: mono });
    const into = new Float32Array(960);
    let nextUs = 0;
    const offUs: number[] = [];
    let n = 0;
    for (const { arrivalUs, values } of chunksOf(device({ jitterMs: 0 }), 34e6, Math.random)) {
      // 200 ms are lost at 20 s.
      if (n++ >= 1000 && n <= 1010) continue;
      inlet.push(values, arrivalUs);
      while (nextUs + blockUs < arrivalUs && inlet.read(nextUs, into)) {
        note(nextUs, into, offUs);
        nextUs += blockUs;
      }
    }
    expect(inlet.jumps()).toBeGreaterThan(0);
    for (const off of offUs.slice(-500)) expect(Math.abs(off)).toBeLessThan(5600);
  });
  it('never clicks: whatever chunks come when, a tone stays a tone', () =>
    fc.assert(
      fc.property(
        fc.record({
          rateHz: fc.constantFrom(32_000, 44_100, 48_000, 96_000),
          driftPpm: fc.integer({ min: -300, max: 300 }),
          chunkMs: fc.constantFrom(5, 10, 20, 46),
          jitterMs: fc.integer({ min: 0, max: 15 }),
          seed: fc.integer({ min: 1, max: 1e6 }),
        }),
        ({ seed, ...given }) => {
          const inlet = createSoundInlet({ rateHz: given.rateHz, channels: mono });
          const into = new Float32Array(960);
          const tone = (us: number) => Math.sin((2 * Math.PI * 440 * us) / 1e6);
          let nextUs = 1_000_000;
          let before: number | null = null;
          let largest = 0;
          // A step of 440 Hz at 48 kHz is at most 2 pi 440/48000; the pitch may be 0.2 % off.
          const most = 2 * Math.sin((Math.PI * 440) / 48_000) * 1.01;
          for (const { arrivalUs, values } of chunksOf(device(given), 5e6, randomStream(seed), tone)) {
            inlet.push(values, arrivalUs);
            while (nextUs + blockUs < arrivalUs && inlet.read(nextUs, into)) {
              for (let i = 0; i < 960; i += 2) {
                if (before !== null) largest = Math.max(largest, Math.abs(into[i]! - before));
                before = into[i]!;
              }
              nextUs += blockUs;
            }
          }
          expect(largest).toBeLessThan(most);
          expect(nextUs).toBeGreaterThan(4_000_000);
        },
      ),
      { numRuns: 3 },
    ));
});

describe('the clock of a device', () => {
  it('tells the sample of a time from the earliest arrivals, not from the late ones', () => {
    const clock = createDeviceClock(48_000);
    expect(clock.sampleAt(0)).toBeNull();
    // 20 ms chunks; every fifth comes at once, the others 15 ms late.
    for (let n = 1; n <= 500; n++) clock.arrived(n * 960, n * 20_000 + (n % 5 === 0 ? 0 : 15_000));
    expect(clock.sampleAt(10_000_000)).toBeCloseTo(480_000, -1);
  });
  it.each([-400, -50, 0, 50, 400])('tells a drift of %d ppm within 5 after a minute', (driftPpm) => {
    const clock = createDeviceClock(48_000);
    const random = randomStream(3);
    expect(clock.driftPpm()).toBeNull();
    for (let n = 1; n <= 3100; n++) clock.arrived(n * 960, (n * 20_000) / (1 + driftPpm / 1e6) + random() * 3000);
    expect(Math.abs((clock.driftPpm() ?? 0) - driftPpm)).toBeLessThan(5);
  });
  it.each([-300, 0, 60, 300])('tells a drift of %d ppm on a busy PC, or nothing', (driftPpm) => {
    const random = randomStream(11);
    for (let times = 0; times < 20; times++) {
      const clock = createDeviceClock(48_000);
      // Every chunk is late by up to 8 ms; in the first five seconds, as programs start, by 5 ms more; every eighth second is quiet.
      for (let n = 1; n <= 3000; n++) {
        const [second, busyUs] = [Math.floor(n / 50), n < 250 ? 5000 : 0];
        const lateUs = second % 8 === 7 ? random() * 1000 : 4000 + random() * 4000;
        clock.arrived(n * 960, (n * 20_000) / (1 + driftPpm / 1e6) + busyUs + lateUs);
      }
      const told = clock.driftPpm();
      expect(Math.abs((told ?? driftPpm) - driftPpm)).toBeLessThan(30);
    }
  });
  it.each([-300, 0, 60])('tells a drift of %d ppm where the way became shorter and longer by 10 ms', (driftPpm) => {
    const random = randomStream(5);
    for (let times = 0; times < 20; times++) {
      const clock = createDeviceClock(48_000);
      const steps = Array.from({ length: 2 }, () => Math.floor(random() * 6000)).toSorted((a, b) => a - b);
      for (let n = 1; n <= 6000; n++) {
        const stepUs = n > (steps[0] ?? 0) && n < (steps[1] ?? 0) ? -10_000 : 0;
        clock.arrived(n * 960, (n * 20_000) / (1 + driftPpm / 1e6) + 10_000 + stepUs + random() * 2000);
      }
      // The line from first to last is off by up to 80 ppm, that of least squares by as much.
      expect(Math.abs((clock.driftPpm() ?? 0) - driftPpm)).toBeLessThan(5);
    }
  });
  it('goes on as before through a second in which the PC let everything come late', () => {
    const clock = createDeviceClock(48_000);
    for (let n = 1; n <= 3000; n++) {
      const waitedUs = n >= 1500 && n < 1590 ? 60_000 : 0;
      clock.arrived(n * 960, n * 20_000 + waitedUs);
      if (n > 100) expect(Math.abs((clock.sampleAt(n * 20_000) ?? 0) - n * 960)).toBeLessThan(48);
    }
  });
  it('follows a device whose way has become longer for good', () => {
    const clock = createDeviceClock(48_000);
    for (let n = 1; n <= 3000; n++) clock.arrived(n * 960, n * 20_000 + (n > 1500 ? 30_000 : 0));
    expect(Math.abs((clock.sampleAt(60_030_000) ?? 0) - 60 * 48_000)).toBeLessThan(480);
  });
});
