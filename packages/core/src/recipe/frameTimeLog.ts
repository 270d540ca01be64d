import { gameRunOf } from '../ledger/gameRun';
import type { GameRun } from '@mellow/model';

/** What a log of frame times tells, or why it tells nothing. */
export type FrameTimeLog = { run: GameRun; column: string; left: number } | { problem: string };

/** Fewer frames say nothing of a game. */
const leastFrames = 60;
/** A frame shorter than this is a line counted twice, a longer one a pause of the log. */
const shortestMs = 0.1;
const longestMs = 5000;

const unitMs: Record<string, number> = { us: 0.001, µs: 0.001, ms: 1, s: 1000 };
/** "frame time (ms)", "shownUs", "time_s": a unit at the end of a name, set off or with a capital letter. */
const unitOf = (name: string): number | null => {
  const found = /(?:[\s_([]|^)(us|µs|ms|s)[)\]]?$/i.exec(name.trim()) ?? /[a-z](Us|Ms|S)$/.exec(name.trim());
  return found?.[1] ? (unitMs[found[1].toLowerCase()] ?? null) : null;
};
const isLength = (name: string): boolean => /frame\s*-?_?time|between|interval|duration|delta/i.test(name);
const isMoment = (name: string): boolean => /time|shown|presented|stamp|clock/i.test(name);

/**
 * Reads a log of frame times as text: a table of commas, semicolons or tabs with a heading, of which one column holds how long
 * each frame took or when it was shown; or a single column of milliseconds without one. Lengths are in milliseconds where the
 * heading names no unit (us, ms, s), moments too.
 */
export function readFrameTimeLog(text: string): FrameTimeLog {
  const rows = text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter((line) => line && !line.startsWith('#'))
    .map((line) => line.split(/[,;\t]/).map((cell) => cell.trim().replace(/^"|"$/g, '')));
  const [first] = rows;
  if (!first) return { problem: 'The file is empty.' };
  const headed = first.some((cell) => cell !== '' && Number.isNaN(Number(cell)));
  const chosen = headed
    ? columnOf(first)
    : first.length === 1
      ? { at: 0, name: 'milliseconds', moments: false, ms: 1 }
      : null;
  if (!chosen)
    return {
      problem: headed
        ? `No column is named as frame time or as time: ${first.join(', ')}. Name one of them "frame time (ms)".`
        : 'There are several columns and no heading, so it is not told which one holds frame times.',
    };
  const values = (headed ? rows.slice(1) : rows).map((row) =>
    row[chosen.at] ? Number(row[chosen.at]) * chosen.ms : NaN,
  );
  const lengths = chosen.moments ? values.slice(1).map((value, i) => value - values[i]!) : values;
  const good = lengths.filter((ms) => ms >= shortestMs && ms <= longestMs);
  if (good.length < leastFrames)
    return {
      problem: `"${chosen.name}" holds ${good.length} frame times that can be read; ${leastFrames} are needed to tell a rate.`,
    };
  return { run: gameRunOf(good), column: chosen.name, left: lengths.length - good.length };
}

function columnOf(heading: readonly string[]): { at: number; name: string; moments: boolean; ms: number } | null {
  for (const [test, moments] of [
    [isLength, false],
    [isMoment, true],
  ] as const) {
    const at = heading.findIndex(test);
    const name = heading[at];
    if (name !== undefined) return { at, name, moments, ms: unitOf(name) ?? 1 };
  }
  return null;
}
