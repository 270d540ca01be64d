/** Script time of this page for live updates, and how it changes when the page is quiet. */
export interface PageCost {
  /** Runs an update and counts the time it took. */
  count(update: () => void): void;
  /** Milliseconds of script in a second, over the last seconds; null before there was one. */
  msPerSecond(nowMs?: number): number | null;
}

const windowMs = 5000;

/** @param clock milliseconds, rising */
export function createPageCost(clock: () => number = () => performance.now()): PageCost {
  let samples: { atMs: number; tookMs: number }[] = [];
  let beganMs: number | null = null;
  return {
    count(update) {
      const fromMs = clock();
      beganMs ??= fromMs;
      update();
      samples.push({ atMs: fromMs, tookMs: clock() - fromMs });
      samples = samples.filter(({ atMs }) => atMs > fromMs - windowMs);
    },
    msPerSecond(nowMs = clock()) {
      if (beganMs === null || nowMs - beganMs < 1000) return null;
      const recent = samples.filter(({ atMs }) => atMs > nowMs - windowMs);
      const seconds = Math.min(windowMs, nowMs - beganMs) / 1000;
      return recent.reduce((sum, { tookMs }) => sum + tookMs, 0) / seconds;
    },
  };
}

export const pageCost = createPageCost();
