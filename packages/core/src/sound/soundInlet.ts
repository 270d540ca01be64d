import type { ChannelPlace } from '@mellow/model';
import { sampleRateHz } from '../codec/soundRates';
import { createDeviceClock } from './deviceClock';
import { mixToStereo, stereoMix } from './mixdown';
import { readBetween, sincTable } from './resampler';

/** What a device delivers. */
export interface SoundFormat {
  rateHz: number;
  channels: readonly ChannelPlace[];
}

export interface SoundInlet {
  /** Interleaved samples of all channels, the last of which had been taken by `arrivalUs`. */
  push(samples: Float32Array, arrivalUs: number): void;
  /**
   * Fills `into` with stereo at 48 kHz that was taken from `startUs` on; what lies before the device began is silent.
   * @returns false where it has not all arrived yet, and nothing was read
   */
  read(startUs: number, into: Float32Array): boolean;
  driftPpm(): number | null;
  /** Times the device's samples did not fit its clock any more, and it was found anew. */
  jumps(): number;
}

/** Samples that are kept: 5 s of the highest rate that is usual. */
const keptSamples = 1 << 20;
/** What is off is made up this slowly, which nobody hears: 0.1 % of pitch. */
const mostSlew = 0.001;
/** Share of what is off that is made up in a block of 10 ms. */
const pull = 0.01;
/** What is off by more was lost or doubled on the way: it is put right at once. */
const jumpUs = 60_000;

/**
 * Sound from a device with a clock of its own, as stereo on the picture's clock: mixed down, resampled, and kept in step by
 * following the device's clock slowly (docs/model.md, "Sound from outside").
 */
export function createSoundInlet({ rateHz, channels }: SoundFormat): SoundInlet {
  const mix = stereoMix(channels);
  const table = sincTable(rateHz, sampleRateHz);
  const nominalStep = rateHz / sampleRateHz;
  const stereo = new Float32Array(keptSamples * 2);
  let clock = createDeviceClock(rateHz);
  /** Samples of the clock's own count begin here. */
  let clockStart = 0;
  let count = 0;
  let lastArrivalUs = -Infinity;
  let jumps = 0;
  let reading: { place: number; nextUs: number } | null = null;

  return {
    push(samples, arrivalUs) {
      const mixed = mixToStereo(samples, mix);
      const given = mixed.length / 2;
      // A device that was silent for longer than its samples last has begun anew.
      if (arrivalUs - lastArrivalUs > 500_000 + (given / rateHz) * 1e6 && count > 0) restart();
      lastArrivalUs = arrivalUs;
      for (let i = 0; i < given; i++) {
        const at = ((count + i) & (keptSamples - 1)) * 2;
        stereo[at] = mixed[i * 2] ?? 0;
        stereo[at + 1] = mixed[i * 2 + 1] ?? 0;
      }
      count += given;
      clock.arrived(count - clockStart, arrivalUs);
    },
    read(startUs, into) {
      const told = clock.sampleAt(startUs);
      if (told === null) return false;
      const due = told + clockStart;
      const step = nextStep(due, startUs, into.length / 2);
      const place = reading?.place ?? due;
      const next = place + step * (into.length / 2);
      if (next + table.taps + 1 > count) return false;
      const first = Math.max(clockStart, count - keptSamples);
      readBetween(table, { samples: stereo, mask: keptSamples - 1, first, end: count }, place, step, into);
      reading = { place: next, nextUs: startUs + (into.length / 2 / sampleRateHz) * 1e6 };
      return true;
    },
    driftPpm: () => clock.driftPpm(),
    jumps: () => jumps,
  };

  /** Source samples between two that are read: the device's own, a little more or less while something is off. */
  function nextStep(due: number, startUs: number, samples: number): number {
    const rate = clock.rate();
    if (!reading || Math.abs(reading.nextUs - startUs) > 1) {
      reading = { place: due, nextUs: startUs };
      return nominalStep * rate;
    }
    const off = due - reading.place;
    if (Math.abs(off) > (jumpUs / 1e6) * rateHz) {
      jumps++;
      reading = { place: due, nextUs: startUs };
      return nominalStep * rate;
    }
    const slew = Math.max(-mostSlew, Math.min(mostSlew, (off / samples / nominalStep) * pull));
    return nominalStep * (rate + slew);
  }

  function restart(): void {
    clock = createDeviceClock(rateHz);
    clockStart = count;
    reading = null;
  }
}
