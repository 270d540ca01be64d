import { createPageCost } from './pageCost';

it('counts the time of updates by the second, over the last five seconds only', () => {
  let nowMs = 0;
  const cost = createPageCost(() => nowMs);
  expect(cost.msPerSecond()).toBeNull();
  const update = (tookMs: number) => cost.count(() => (nowMs += tookMs));
  for (let i = 0; i < 10; i++) {
    update(20);
    nowMs += 180;
  }
  // Ten updates of 20 ms in 2 s.
  expect(cost.msPerSecond()).toBeCloseTo(100, 6);
  nowMs += 10_000;
  expect(cost.msPerSecond()).toBe(0);
  update(5);
  expect(cost.msPerSecond()).toBeCloseTo(1, 6);
});
