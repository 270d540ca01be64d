import { nowUs } from './monotonic';

/** Does so much work as takes so many microseconds on a processor of its own. */
export type SteadyWork = (us: number) => void;

const tableWords = 1 << 18;
const piece = 2000;

/**
 * Work that is counted and not timed: a thread that has to share its core needs longer for it, as a game does. It reads and
 * writes a table of 1 MB in jumps, so that it also feels others that use memory. Its speed is measured here once, the fastest
 * of some tries, as slower ones were disturbed.
 */
export function createSteadyWork(): SteadyWork {
  const table = new Uint32Array(tableWords).map((_, i) => i * 2654435761);
  let at = 1;
  const run = (steps: number): void => {
    let value = at;
    for (let i = 0; i < steps; i++) {
      value = (Math.imul(value, 1664525) + 1013904223) >>> 0;
      const place = value >>> 14;
      table[place] = (table[place]! ^ value) >>> 0;
    }
    at = value;
  };
  run(piece * 20);
  let usPerStep = Infinity;
  for (let i = 0; i < 12; i++) {
    const from = nowUs();
    run(piece * 5);
    usPerStep = Math.min(usPerStep, Math.max(1, nowUs() - from) / (piece * 5));
  }
  return (us) => {
    if (us > 0) run(Math.round(us / usPerStep));
  };
}
