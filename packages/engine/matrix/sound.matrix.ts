import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import { openSoundSystem, type TestSoundSystem } from '../test/support/soundSystem';
import { clickOffsets } from '../test/support/soundTiming';

/** Sounds of devices over takes that are long enough to drift. */
jest.setTimeout(400_000);

let sounds: TestSoundSystem;
let bench: TakeBench;
beforeAll(async () => {
  sounds = await openSoundSystem([{ name: 'one' }, { name: 'cd', rateHz: 44_100 }]);
  bench = await openTakeBench();
});
afterAll(async () => {
  bench.close();
  await sounds.close();
});

const median = (values: readonly number[]): number => values.toSorted((a, b) => a - b)[values.length >> 1] ?? NaN;

it.each(['one', 'cd'])(
  '%s is in step with the picture within one frame at the start and after two minutes',
  async (name) => {
    const { offsetsMs, driftPpm } = await clickOffsets(sounds, bench, name, 125);
    expect(offsetsMs.length).toBeGreaterThan(115);
    const [start, end] = [median(offsetsMs.slice(0, 9)), median(offsetsMs.slice(-9))];
    expect(Math.abs(start)).toBeLessThan(1000 / 60);
    expect(Math.abs(end)).toBeLessThan(1000 / 60);
    // The clock of a sound system without hardware is the PC's own: what is told of it must say so.
    expect(Math.abs(driftPpm ?? NaN)).toBeLessThan(30);
  },
);
