import * as fc from 'fast-check';
import { dueUs, plainPracticeGame } from '@mellow/core';
import type { ScriptEvent } from '@mellow/model';
import { isStalled, slotTimeUs, warmUpUs } from '@mellow/practice';
import { drivenPractice } from '../sources/drivenPractice';
import { scriptedAt } from './script';
import { virtualPath } from './virtualPath';

const rate = { num: 60, den: 1 };
const takes = (kind: 'encode-takes' | 'size-takes', serviceUs: number, fromDue = 0, toDue = 1000): ScriptEvent => ({
  kind,
  fromDue,
  toDue,
  serviceUs,
});

describe('stations on the virtual clock', () => {
  it('serve one frame at a time: done(n) = max(done(n-1), arrived(n)) + service (Lindley’s recursion)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 100, max: 60_000 }), { minLength: 5, maxLength: 60, size: 'max' }),
        (services) => {
          const script = services.map((serviceUs, n) => takes('encode-takes', serviceUs, n, n + 1));
          const path = virtualPath(rate, false, script);
          let done = 0;
          services.forEach((service, n) => {
            const times = path.accept(n);
            const start = Math.max(done, times.sizedUs);
            expect(times.encodeInUs).toBe(start);
            expect(times.encodeOutUs).toBe(start + service);
            done = times.encodeOutUs;
          });
        },
      ),
    );
  });
  it('keep their order along the path for any mix of delays', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.integer({ min: 0, max: 15_000 }),
            fc.integer({ min: 0, max: 40_000 }),
            fc.integer({ min: 0, max: 40_000 }),
          ),
          { minLength: 3, maxLength: 40, size: 'max' },
        ),
        (delays) => {
          const script = delays.flatMap(([wake, size, encode], n): ScriptEvent[] => [
            { kind: 'picker-wakes-late', fromDue: n, toDue: n + 1, delayUs: wake },
            takes('size-takes', size, n, n + 1),
            takes('encode-takes', encode, n, n + 1),
          ]);
          const path = virtualPath(rate, true, script);
          delays.forEach((_, n) => {
            const t = path.accept(n);
            const along = [
              dueUs(rate, n),
              t.pickedUs,
              t.capturedUs,
              t.sizedUs,
              t.encodeInUs,
              t.encodeOutUs,
              t.writtenUs,
            ];
            expect(along).toEqual([...along].sort((a, b) => a - b));
          });
        },
      ),
    );
  });
  it('have room until the encoder’s queue holds eight, and again when it has drained', () => {
    const path = virtualPath(rate, false, [takes('encode-takes', 500_000, 0, 9)]);
    for (let n = 0; n < 9; n++) {
      expect(path.observe(n).room).toBe('yes');
      path.accept(n);
    }
    expect(path.observe(9).room).toBe('encode-queue-full');
    expect(path.observe(40).room).toBe('yes');
  });
  it('see a busy scaler before a full encoder', () => {
    const path = virtualPath(rate, true, [takes('size-takes', 200_000)]);
    for (let n = 0; n < 3; n++) path.accept(n);
    expect(path.observe(3).room).toBe('size-busy');
  });
});

describe('scripted events', () => {
  const script: ScriptEvent[] = [{ kind: 'grab-fails', fromDue: 3, toDue: 5 }];
  it.each([
    [2, false],
    [3, true],
    [4, true],
    [5, false],
  ])('at due %d: %s', (n, holds) => {
    expect(scriptedAt(script, 'grab-fails', n) !== null).toBe(holds);
    expect(scriptedAt(script, 'size-fails', n)).toBeNull();
  });
});

describe('the game on the virtual clock', () => {
  const game = { ...plainPracticeGame, widthPx: 320, heightPx: 180 };
  it('shows at each due the newest slot that was presented by then', () => {
    for (const capFps of [30, 59, 120, null]) {
      const source = drivenPractice({ ...game, capFps }, rate, []);
      for (let n = 0; n < 620; n += 31) {
        const newest = source.newestAt(n);
        expect(newest).not.toBeNull();
        expect(source.presentUs(newest ?? 0)).toBeLessThanOrEqual(dueUs(rate, n));
        expect(source.presentUs(source.nextAfter(newest ?? 0))).toBeGreaterThan(dueUs(rate, n));
      }
    }
  });
  it('presents nothing while it loads, and counts only what it presented', () => {
    const source = drivenPractice({ ...game, capFps: 60 }, rate, []);
    const first = Math.ceil((warmUpUs * 60) / 1e6) - 2;
    let expected = 0;
    for (let slot = first; slot <= first + 620; slot++) {
      if (!isStalled(game, slotTimeUs({ ...game, capFps: 60 }, slot))) expected++;
      expect(source.presentedThrough(slot)).toBe(expected);
    }
    expect(expected).toBeLessThan(621);
  });
});
