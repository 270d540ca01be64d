import { sampleRateHz, soundChannels } from '@mellow/core';

/** Seconds that can be heard again. */
const keptSeconds = 10;

/** The last seconds of stereo, as 16 bit. */
export function createLastHeard() {
  const values = new Int16Array(keptSeconds * sampleRateHz * soundChannels);
  let added = 0;
  return {
    add(samples: Float32Array): void {
      for (const value of samples)
        values[added++ % values.length] = Math.max(-32_768, Math.min(32_767, Math.round(value * 32_767)));
    },
    /** Oldest first. */
    samples(): Int16Array<ArrayBuffer> {
      if (added <= values.length) return values.slice(0, added);
      const from = added % values.length;
      const whole = new Int16Array(values.length);
      whole.set(values.subarray(from));
      whole.set(values.subarray(0, from), values.length - from);
      return whole;
    },
  };
}
