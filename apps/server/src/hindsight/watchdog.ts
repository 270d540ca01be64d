/** How often it is looked whether the recorder still gives signs. */
const lookEveryMs = 250;

export interface Watchdog {
  /** The recorder gave a sign, or a new one begins. */
  sign(): void;
  stop(): void;
}

/**
 * Counts how long the recorder gave no sign while this process itself listened: where the server stood still, the
 * recorder's messages are only late.
 */
export function createWatchdog(hangMs: number, watching: () => boolean, onSilent: () => void): Watchdog {
  let silentMs = 0;
  let lastLookMs = performance.now();
  const timer = setInterval(() => {
    const now = performance.now();
    silentMs += Math.min(now - lastLookMs, 2 * lookEveryMs);
    lastLookMs = now;
    if (!watching() || silentMs < hangMs) return;
    silentMs = 0;
    onSilent();
  }, lookEveryMs);
  timer.unref();
  return {
    sign: () => void (silentMs = 0),
    stop: () => clearInterval(timer),
  };
}
