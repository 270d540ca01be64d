import { createMemoryHistory } from './memoryHistory';
import { pictureTrack } from './history';

const bytesEach = 1000;
function run(pictures: number, options: { windowFrames: number; limitBytes?: number; keyEvery?: number }) {
  const { windowFrames, limitBytes = 1e9, keyEvery = 10 } = options;
  const history = createMemoryHistory({ windowFrames, limitBytes, reorders: false, header: null });
  const most = { frames: 0, bytes: 0 };
  for (let pts = 0; pts < pictures; pts++) {
    const data = new Uint8Array(bytesEach).fill(pts % 256);
    history.push({ track: 0, pts: pts * 1600, dts: pts * 1600, duration: 1600, key: true }, data);
    history.push({ track: pictureTrack, pts, dts: pts, duration: 1, key: pts % keyEvery === 0 }, data);
    most.frames = Math.max(most.frames, history.frames());
    most.bytes = Math.max(most.bytes, history.bytes());
  }
  return { history, most };
}

it('holds the window and at most one group of pictures more, over many times its length', () => {
  for (const keyEvery of [1, 10, 60]) {
    const { history, most } = run(20_000, { windowFrames: 120, keyEvery });
    expect(history.frames()).toBeGreaterThanOrEqual(120);
    expect(most.frames).toBeLessThan(120 + keyEvery);
    // Picture and sound; nothing that was let go is counted any more.
    expect(most.bytes).toBeLessThanOrEqual(2 * bytesEach * (120 + keyEvery));
    expect(history.bytes()).toBeGreaterThanOrEqual(2 * bytesEach * 120 - bytesEach);
  }
});

it('gives the oldest up where its bytes pass the limit, never the last group', () => {
  const { history, most } = run(2000, { windowFrames: 1000, limitBytes: 100 * bytesEach });
  expect(most.bytes).toBeLessThanOrEqual(122 * bytesEach);
  expect(history.frames()).toBeGreaterThan(20);
  expect(run(50, { windowFrames: 1000, limitBytes: 1, keyEvery: 100 }).history.frames()).toBe(50);
});

it('hands out copies: what the caller does with its memory afterwards changes nothing, and time goes on meanwhile', () => {
  const history = createMemoryHistory({ windowFrames: 10, limitBytes: 1e9, reorders: false, header: null });
  const data = new Uint8Array(4);
  for (let pts = 0; pts < 10; pts++) {
    data.fill(pts);
    history.push({ track: pictureTrack, pts, dts: pts, duration: 1, key: pts % 5 === 0 }, data);
  }
  const clip = history.clip(4);
  for (let pts = 10; pts < 500; pts++)
    history.push({ track: pictureTrack, pts, dts: pts, duration: 1, key: pts % 5 === 0 }, data);
  const packets = [...(clip?.packets ?? [])];
  const inside = packets.filter((_, i) => i >= (clip?.span.first ?? 0));
  expect(inside.map((one) => [one.packet.pts, one.data[0]])).toEqual([5, 6, 7, 8, 9].map((n) => [n, n]));
  expect(clip?.span).toMatchObject({ startPts: 5, endPts: 10 });
});

it('holds nothing before the first key picture', () => {
  const history = createMemoryHistory({ windowFrames: 10, limitBytes: 1e9, reorders: false, header: null });
  history.push({ track: 0, pts: 0, dts: 0, duration: 1, key: true }, new Uint8Array(8));
  history.push({ track: pictureTrack, pts: 0, dts: 0, duration: 1, key: false }, new Uint8Array(8));
  expect([history.frames(), history.bytes(), history.clip(5)]).toEqual([0, 0, null]);
});
