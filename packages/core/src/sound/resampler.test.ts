import { readBetween, sincTable } from './index';

const count = 1 << 14;
/** Stereo: a tone on the left, the same a quarter later on the right. */
function tone(hz: number, rateHz: number): Float32Array {
  const samples = new Float32Array(count * 2);
  for (let i = 0; i < count; i++) {
    samples[i * 2] = Math.sin((2 * Math.PI * hz * i) / rateHz);
    samples[i * 2 + 1] = Math.cos((2 * Math.PI * hz * i) / rateHz);
  }
  return samples;
}

/** How far what is read stands above its own fault, decibels: against the tone as it is at the places that were asked. */
function faultDb(hz: number, fromHz: number, toHz: number, from = 500.25): number {
  const into = new Float32Array(2000 * 2);
  const step = fromHz / toHz;
  const source = { samples: tone(hz, fromHz), mask: count - 1, first: 0, end: count };
  readBetween(sincTable(fromHz, toHz), source, from, step, into);
  let [fault, sum] = [0, 0];
  for (let i = 0; i < into.length / 2; i++) {
    const angle = (2 * Math.PI * hz * (from + i * step)) / fromHz;
    fault += (into[i * 2]! - Math.sin(angle)) ** 2 + (into[i * 2 + 1]! - Math.cos(angle)) ** 2;
    sum += 1;
  }
  return 10 * Math.log10(fault / sum);
}

describe('reading between samples', () => {
  it.each([
    [44_100, 48_000],
    [48_000, 48_000],
    [32_000, 48_000],
    [96_000, 48_000],
    [192_000, 48_000],
    [48_002.4, 48_000],
  ])('from %d to %d Hz keeps every tone a voice and a game have, 80 dB above its own faults', (fromHz, toHz) => {
    for (const hz of [50, 440, 997, 3000, 9000, 0.375 * Math.min(fromHz, toHz)])
      expect(faultDb(hz, fromHz, toHz)).toBeLessThan(-80);
  });
  it('lets nothing through that the lower rate cannot hold', () => {
    for (const hz of [30_000, 40_000]) {
      const into = new Float32Array(2000 * 2);
      const source = { samples: tone(hz, 96_000), mask: count - 1, first: 0, end: count };
      readBetween(sincTable(96_000, 48_000), source, 500, 2, into);
      expect(20 * Math.log10(Math.max(...into.map(Math.abs)))).toBeLessThan(-80);
    }
  });
  it('gives samples back as they are where it reads at them', () => {
    const samples = tone(1234, 48_000);
    const into = new Float32Array(200);
    readBetween(sincTable(48_000, 48_000), { samples, mask: count - 1, first: 0, end: count }, 100, 1, into);
    for (let i = 0; i < into.length; i++) expect(into[i]).toBeCloseTo(samples[200 + i]!, 6);
  });
  it('is silent where the source has nothing yet, and nothing any more', () => {
    const into = new Float32Array(20);
    const source = { samples: tone(440, 48_000), mask: count - 1, first: 0, end: 1000 };
    readBetween(sincTable(48_000, 48_000), source, -200, 1, into);
    expect(into.every((value) => value === 0)).toBe(true);
    readBetween(sincTable(48_000, 48_000), source, 1200, 1, into);
    expect(into.every((value) => value === 0)).toBe(true);
  });
  it('goes round: what lies across the end of memory reads as what lies in one piece', () => {
    const samples = tone(700, 48_000);
    const plain = new Float32Array(400);
    const round = new Float32Array(400);
    const table = sincTable(48_000, 48_000);
    readBetween(table, { samples, mask: count - 1, first: 0, end: count }, 5000.3, 1, plain);
    const turned = new Float32Array(samples.length);
    const shift = count - 5100;
    for (let i = 0; i < count; i++) turned.set(samples.subarray(i * 2, i * 2 + 2), ((i + shift) & (count - 1)) * 2);
    const source = { samples: turned, mask: count - 1, first: shift, end: shift + count };
    readBetween(table, source, 5000.3 + shift, 1, round);
    for (let i = 0; i < plain.length; i++) expect(round[i]).toBeCloseTo(plain[i]!, 5);
  });
});
