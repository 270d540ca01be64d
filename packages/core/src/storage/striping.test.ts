import fc from 'fast-check';
import { plainPracticeGame, startRecipe } from '../recipe';
import { driveFactsSchema, type DriveFacts, type Recipe } from '@mellow/model';
import { stripedDrive } from './stripedDrive';
import { isStriped, placeInStripes, roomInStripes, stripeCounts, stripeLayout, wholeInStripes } from './striping';

const speeds = fc.array(fc.option(fc.double({ min: 1e6, max: 1e9, noNaN: true })), { minLength: 2, maxLength: 9 });
const layouts = fc
  .tuple(speeds, fc.constantFrom('equal' as const, 'by-speed' as const), fc.constantFrom(4096, 12_288))
  .map(([each, shares, blockBytes]) => stripeLayout(each, shares, blockBytes));

describe('blocks spread over folders', () => {
  it('fill every stripe from its beginning without a hole, and none twice', () => {
    fc.assert(
      fc.property(layouts, fc.integer({ min: 1, max: 100 }), (layout, blocks) => {
        const taken = stripeCounts(layout).map(() => 0);
        for (let block = 0; block < blocks; block++) {
          const { stripe, at, bytes } = placeInStripes(layout, block * layout.blockBytes);
          expect([bytes, at]).toEqual([layout.blockBytes, (taken[stripe] ?? NaN) * layout.blockBytes]);
          taken[stripe]! += 1;
        }
      }),
    );
  });
  it('have each byte where its block and its place within say', () => {
    fc.assert(
      fc.property(layouts, fc.integer({ min: 0, max: 2 ** 45 }), (layout, position) => {
        const begin = position - (position % layout.blockBytes);
        const [whole, part] = [placeInStripes(layout, begin), placeInStripes(layout, position)];
        expect(part).toEqual({
          stripe: whole.stripe,
          at: whole.at + position - begin,
          bytes: layout.blockBytes - (position - begin),
        });
      }),
    );
  });
  it('are whole up to the first byte that is missing, however far the others are', () => {
    fc.assert(
      fc.property(
        layouts,
        fc.integer({ min: 0, max: 600_000 }),
        fc.array(fc.nat(60_000)),
        (layout, written, missing) => {
          const full = stripeCounts(layout).map(() => 0);
          for (let at = 0; at < written;) {
            const place = placeInStripes(layout, at);
            const bytes = Math.min(place.bytes, written - at);
            full[place.stripe] = place.at + bytes;
            at += bytes;
          }
          expect(wholeInStripes(layout, full)).toBe(written);
          const cut = full.map((length, i) => Math.max(0, length - (missing[i] ?? 0)));
          const whole = wholeInStripes(layout, cut);
          expect(whole).toBeLessThanOrEqual(written);
          for (let at = 0; at < whole;) {
            const place = placeInStripes(layout, at);
            const bytes = Math.min(place.bytes, whole - at);
            if (place.at + bytes > cut[place.stripe]!) throw new Error(`byte ${at} is missing`);
            at += bytes;
          }
          if (whole < written) {
            const place = placeInStripes(layout, whole);
            expect(place.at).toBe(cut[place.stripe]);
          }
        },
      ),
    );
  });
  it('go to each by its speed in the shortest round, and are never slower than equal shares', () => {
    expect(stripeLayout([200e6, 100e6], 'by-speed').pattern).toEqual([0, 1, 0]);
    expect(stripeCounts(stripeLayout([300e6, 200e6, 100e6], 'by-speed'))).toEqual([3, 2, 1]);
    fc.assert(
      fc.property(fc.array(fc.double({ min: 1e6, max: 1e9, noNaN: true }), { minLength: 2, maxLength: 9 }), (each) => {
        const layout = stripeLayout(each, 'by-speed');
        const counts = stripeCounts(layout);
        expect(counts).toHaveLength(each.length);
        const speed = Math.min(...each.map((one, i) => (one * layout.pattern.length) / (counts[i] ?? 1)));
        expect(speed).toBeGreaterThanOrEqual(Math.min(...each) * each.length * (1 - 1e-9));
        expect(speed).toBeLessThanOrEqual(each.reduce((sum, one) => sum + one, 0) * (1 + 1e-9));
      }),
    );
  });
  it('go to all alike where that is wanted, and where a speed is not known', () => {
    expect(stripeLayout([2e8, 1e8], 'equal').pattern).toEqual([0, 1]);
    expect(stripeLayout([2e8, null, 1e8], 'by-speed').pattern).toEqual([0, 1, 2]);
  });
  it('end where the first folder is full', () => {
    expect(roomInStripes(stripeLayout([1, 1], 'equal'), [10e9, 3e9])).toBe(6e9);
    expect(roomInStripes({ blockBytes: 4096, pattern: [0, 0, 1] }, [10e9, 4e9])).toBe(12e9);
  });
});

describe('folders of a striped recipe', () => {
  const drive = (id: string, change: Partial<DriveFacts> = {}): DriveFacts =>
    driveFactsSchema.parse({
      id,
      name: id,
      kind: 'solid state',
      freeBytes: 100e9,
      writeBytesPerSecond: 200e6,
      deviceId: id,
      largestFileBytes: null,
      totalBytes: null,
      takesBytes: 0,
      folder: null,
      problem: null,
      simulated: false,
      ...change,
    });
  const base = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'one');
  const striped = (shares: 'equal' | 'by-speed'): Recipe => ({
    ...base,
    nextDriveIds: ['two', 'gone'],
    parts: { by: 'striped', shares },
  });
  const drives = [
    drive('one'),
    drive('two', { writeBytesPerSecond: 100e6, freeBytes: 30e9 }),
    drive('gone', { problem: 'away' }),
  ];

  it('are as fast as twice the slowest in equal shares, as both together by speed (common practice)', () => {
    expect(stripedDrive(striped('equal'), drives)?.writeBytesPerSecond).toBe(200e6);
    expect(stripedDrive(striped('by-speed'), drives)?.writeBytesPerSecond).toBe(300e6);
    expect(stripedDrive(striped('equal'), drives)?.freeBytes).toBe(60e9);
  });
  it('come within a hundredth of the sum by speed, and to N times the slowest in equal shares: 56 and 45 MB/s', () => {
    const two = [drive('one', { writeBytesPerSecond: 56e6 }), drive('two', { writeBytesPerSecond: 45e6 })];
    expect(stripedDrive(striped('equal'), two)?.writeBytesPerSecond).toBe(90e6);
    expect(stripedDrive(striped('by-speed'), two)?.writeBytesPerSecond).toBeGreaterThan(0.99 * 101e6);
    expect(stripedDrive(striped('by-speed'), two)?.writeBytesPerSecond).toBeLessThanOrEqual(101e6);
  });
  it('win nothing on one physical drive', () => {
    const one = drives.map((d) => ({ ...d, deviceId: 'same', writeBytesPerSecond: 150e6 }));
    expect(stripedDrive(striped('equal'), one)?.writeBytesPerSecond).toBe(150e6);
  });
  it('are one folder where no other can be used, or none was chosen', () => {
    expect(stripedDrive(striped('equal'), [drives[0]!, drives[2]!])).toBeNull();
    expect(isStriped({ ...base, parts: { by: 'striped', shares: 'equal' } })).toBe(false);
    expect(stripedDrive(base, drives)).toBeNull();
  });
});
