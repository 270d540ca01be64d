import * as fc from 'fast-check';
import { mostCuts } from '@mellow/model';
import { createControlMemory, openControl } from './control';
import { blockBeginsUs, soundBlockUs } from './soundRing';
import { createTakeClockMemory, openTakeClock } from './takeClock';

const zeroUs = 5e6;
function clockOf() {
  const control = openControl(createControlMemory());
  control.setFigure('dueZeroUs', zeroUs);
  return openTakeClock(createTakeClockMemory(), control);
}

/** Stretches of the file and the pauses after each, microseconds. */
const walks = fc.array(fc.tuple(fc.integer({ min: 0, max: 2e6 }), fc.integer({ min: 1, max: 3e6 })), { maxLength: 6 });

describe('the clock of a take', () => {
  it('leads every moment of the file to the moment it was recorded at, and back', () => {
    fc.assert(
      fc.property(walks, fc.integer({ min: 0, max: 15e6 }), (walk, askedUs) => {
        const clock = clockOf();
        // The same, told step by step: what the file's time is at each real moment.
        let fileUs = 0;
        let realUs = zeroUs;
        let expected: number | null = null;
        const step = (byUs: number, runs: boolean): void => {
          const atUs = zeroUs + askedUs;
          if (atUs >= realUs && atUs < realUs + byUs) expected = fileUs + (runs ? atUs - realUs : 0);
          realUs += byUs;
          if (runs) fileUs += byUs;
        };
        for (const [runsUs, leftOutUs] of walk) {
          step(runsUs, true);
          clock.pause(fileUs);
          expect(clock.at(fileUs)).toBe(Infinity);
          expect(clock.fileOf(realUs + 1e9)).toBe(fileUs);
          step(leftOutUs, false);
          clock.resume(leftOutUs);
        }
        step(30e6, true);
        expect(clock.fileOf(zeroUs + askedUs)).toBe(expected);
        expect(clock.fileOf(clock.at(askedUs))).toBe(askedUs);
        expect(clock.cuts().reduce((sum, cut) => sum + cut.leftOutUs, 0)).toBe(realUs - zeroUs - fileUs);
      }),
    );
  });

  it('puts a block of sound across a cut to the side of its greater half', () => {
    const clock = clockOf();
    clock.pause(44_000);
    expect(blockBeginsUs(clock, 3)).toBe(zeroUs + 30_000);
    expect(blockBeginsUs(clock, 4)).toBe(Infinity);
    clock.resume(1e6);
    expect(blockBeginsUs(clock, 3)).toBe(zeroUs + 30_000);
    expect(blockBeginsUs(clock, 4)).toBe(zeroUs + 1e6 + 4 * soundBlockUs);
  });

  it('keeps so many pauses and says when it is full', () => {
    const clock = clockOf();
    for (let i = 0; i < mostCuts; i++) {
      expect(clock.full()).toBe(false);
      clock.pause(i * 1000);
      clock.resume(1000);
    }
    expect(clock.full()).toBe(true);
    expect(clock.cuts()).toHaveLength(mostCuts);
  });
});
