import type { Take } from '@mellow/model';
import { recipeDifferences } from '../recipe/differences';
import { bytesPerHour } from '../storage';
import { formatBytes, formatMs, framesPerSecond, listWords } from '../units';

/** What a full take did otherwise than the trial before it. */
export interface AgainstTrial {
  trial: Take;
  /** One sentence; what is within what two trials of one recipe differ by is left out. */
  sentence: string;
}

/** Two takes of one recipe differ by so much without a reason (repeats of the practice games, bench/fit). */
const sizeShare = 0.1;
const newShare = 0.03;
const encodeShare = 0.25;
const lostAMinute = 0.5;

type Judged = Take & { summary: NonNullable<Take['summary']>; facts: NonNullable<Take['facts']> };
const isJudged = (take: Take): take is Judged => take.summary !== null && take.facts !== null;

const secondsOf = ({ summary, recipe }: Judged): number => summary.due / framesPerSecond(recipe.rate);
const lostPerMinute = (take: Judged): number =>
  ((take.summary.due - take.summary.filed) * 60) / Math.max(1, secondsOf(take));
const hourBytes = (take: Judged): number => bytesPerHour((take.facts.bytes * 8) / Math.max(1, secondsOf(take)));
const perMinute = (lost: number): string => (lost === 0 ? 'none' : lost < 10 ? lost.toFixed(1) : lost.toFixed(0));
const apart = (a: number, b: number): number => Math.abs(a - b) / Math.max(a, b, 1e-9);

/**
 * Holds a full take against the last trial of its setup on the same machine.
 * @param takes of the setup, newest first
 * @returns null where there is no trial to hold it against
 */
export function againstTrial(take: Take, takes: readonly Take[]): AgainstTrial | null {
  const trial = takes.find(
    (other): other is Judged =>
      other.kind === 'trial' &&
      other.setupId === take.setupId &&
      other.createdAt < take.createdAt &&
      other.machine.origin === take.machine.origin &&
      isJudged(other),
  );
  if (!trial || !isJudged(take)) return null;
  const changed = recipeDifferences(trial.recipe, take.recipe);
  const recipe = changed.length
    ? `with ${changed.length === 1 ? 'one change' : `${changed.length} changes`} (${changed.slice(0, 3).join(', ')}${changed.length > 3 ? ', ...' : ''})`
    : 'with the same recipe';
  const [lost, lostThen] = [lostPerMinute(take), lostPerMinute(trial)];
  const [size, sizeThen] = [hourBytes(take), hourBytes(trial)];
  const [fresh, freshThen] = [take.summary.pacing.newPerSecond, trial.summary.pacing.newPerSecond];
  const [encode, encodeThen] = [take.summary.loads.encode?.busiestMs, trial.summary.loads.encode?.busiestMs];
  const words = [
    Math.abs(lost - lostThen) >= lostAMinute && `${perMinute(lost)} lost a minute where it lost ${perMinute(lostThen)}`,
    apart(size, sizeThen) > sizeShare && `${formatBytes(size)}/h where it had ${formatBytes(sizeThen)}/h`,
    apart(fresh, freshThen) > newShare &&
      `${fresh.toFixed(1)} new pictures a second where it had ${freshThen.toFixed(1)}`,
    encode !== undefined &&
      encodeThen !== undefined &&
      apart(encode, encodeThen) > encodeShare &&
      `Encode’s busiest 1 % at ${formatMs(encode)} where it was ${formatMs(encodeThen)}`,
  ].filter((word) => word !== false);
  return {
    trial,
    sentence: words.length
      ? `Against trial ${trial.number}, ${recipe}: ${listWords(words)}.`
      : `It went as trial ${trial.number} did, ${recipe}.`,
  };
}
