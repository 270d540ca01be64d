import * as fc from 'fast-check';
import { clipSpan, type CodedPicture } from './index';

/** Groups of pictures as an encoder with B-frames sends them: key, then each anchor before the pictures shown ahead of it. */
function coded(groups: readonly { frames: number; bFrames: number }[], lost: ReadonlySet<number>): CodedPicture[] {
  const order: { pts: number; key: boolean }[] = [];
  let pts = 0;
  for (const { frames, bFrames } of groups) {
    order.push({ pts, key: true });
    for (let at = 1; at < frames; at += bFrames + 1) {
      const anchor = Math.min(at + bFrames, frames - 1);
      order.push({ pts: pts + anchor, key: false });
      for (let b = at; b < anchor; b++) order.push({ pts: pts + b, key: false });
    }
    pts += frames;
  }
  // Decode times rise by one and are never after the presentation.
  const back = Math.max(0, ...order.map((picture, i) => i - picture.pts));
  return order
    .map((picture, i) => ({ ...picture, dts: i - back }))
    .filter((picture) => picture.key || !lost.has(picture.pts));
}

const groupsOf = fc.array(
  fc.record({ frames: fc.integer({ min: 1, max: 12 }), bFrames: fc.integer({ min: 0, max: 3 }) }),
  {
    minLength: 1,
    maxLength: 8,
  },
);

it('a span begins with a key picture, wherever the run is cut off, and no picture shown inside it comes later', () => {
  fc.assert(
    fc.property(
      groupsOf,
      fc.nat(60),
      fc.integer({ min: 1, max: 40 }),
      fc.array(fc.nat(80), { maxLength: 6 }),
      (groups, cut, wanted, lost) => {
        const all = coded(groups, new Set(lost));
        const there = all.slice(0, Math.min(all.length, cut));
        const span = clipSpan(there, wanted, true);
        if (!span) {
          // Only where hardly anything is there yet: one group of pictures that waits for its last ones.
          expect(there.length).toBeLessThanOrEqual(5);
          return;
        }
        expect(there[span.first]).toMatchObject({ key: true, pts: span.startPts });
        const inside = there.slice(span.first, span.end);
        expect(Math.max(...inside.map(({ pts }) => pts)) + 1).toBe(span.endPts);
        for (const { pts } of all.slice(span.end)) expect(pts).toBeGreaterThanOrEqual(span.endPts);
        // At most one anchor with its pictures is given up at the end.
        expect(there.length - span.end).toBeLessThanOrEqual(5);
        // Long enough where there is so much, and not longer than one group more.
        const newerKey = there
          .slice(0, span.end)
          .some(({ key, pts }) => key && pts > span.startPts && pts <= span.endPts - wanted);
        expect(newerKey).toBe(false);
        const older = there.slice(0, span.first).some(({ key }) => key);
        if (older) expect(span.endPts - span.startPts).toBeGreaterThanOrEqual(wanted);
      },
    ),
  );
});

it('takes everything where nothing is reordered, and says so where no key picture is there', () => {
  const plain = [0, 1, 2, 3].map((pts) => ({ pts, dts: pts, key: pts === 0 }));
  expect(clipSpan(plain, 2, false)).toEqual({ first: 0, end: 4, startPts: 0, endPts: 4 });
  expect(clipSpan(plain.slice(1), 2, false)).toBeNull();
  expect(clipSpan([], 2, true)).toBeNull();
});
