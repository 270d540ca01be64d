import type { Take } from '@mellow/model';
import { bitrateOf } from '../storage';
import { formatPercent, plural, signed, studentTQuantile } from '../units';
import { playCostShare } from '../ledger';

/** A figure of a trial that comparisons look at. */
export interface TrialFigure {
  name: 'size' | 'lost' | 'play cost' | 'encode load';
  value: number;
}

/** How often two truly equal recipes may be called different, all figures together. */
const falseAlarms = 0.05;
/** Repeats are needed until so many degrees of freedom are there: a recipe and two repeats of it. */
const leastDegrees = 2;

/**
 * How each figure is compared: as a ratio (differences of its logarithm) or as it stands, and the least spread that is believed,
 * so that repeats which happen to be equal to the last digit do not make every other trial differ.
 */
const kinds: Record<TrialFigure['name'], { ratio: boolean; leastSd: number }> = {
  size: { ratio: true, leastSd: 0.002 },
  'encode load': { ratio: true, leastSd: 0.01 },
  lost: { ratio: false, leastSd: 0.0005 },
  'play cost': { ratio: false, leastSd: 0.001 },
};

/** The figures of a finished trial; those not known are left out. */
export function trialFigures(take: Take): TrialFigure[] {
  const figures: TrialFigure[] = [];
  const { summary, facts, playCost, recipe } = take;
  if (!summary || !facts) return figures;
  const seconds = (summary.due * recipe.rate.den) / recipe.rate.num;
  figures.push({ name: 'size', value: bitrateOf(facts.bytes, seconds) });
  figures.push({ name: 'lost', value: (summary.due - summary.filed) / Math.max(1, summary.due) });
  if (playCost)
    figures.push({ name: 'play cost', value: playCostShare(playCost.with.meanFps, playCost.without.meanFps) });
  if (summary.loads.encode) figures.push({ name: 'encode load', value: summary.loads.encode.usualMs });
  return figures;
}

export interface Comparison {
  verdict: 'equal' | 'differ' | 'unknown';
  text: string;
}

const orderKey = (take: Take): string => JSON.stringify([take.recipe, take.game, take.machine.name]);

/** A figure of a trial as it is compared: its logarithm where ratios count. Null where it is not there, or no logarithm is. */
function comparable(take: Take, name: TrialFigure['name']): number | null {
  const value = trialFigures(take).find((figure) => figure.name === name)?.value;
  if (value === undefined) return null;
  if (!kinds[name].ratio) return value;
  return value > 0 ? Math.log(value) : null;
}

interface Pooled {
  sd: number;
  degrees: number;
}

/** Standard deviation within groups of repeats, pooled over all groups (NIST/SEMATECH e-Handbook, 7.3.1.1). */
function pooledSpread(groups: readonly (readonly number[])[]): Pooled {
  let squares = 0;
  let degrees = 0;
  for (const group of groups) {
    const mean = group.reduce((sum, value) => sum + value, 0) / group.length;
    squares += group.reduce((sum, value) => sum + (value - mean) ** 2, 0);
    degrees += Math.max(0, group.length - 1);
  }
  return { sd: degrees ? Math.sqrt(squares / degrees) : 0, degrees };
}

/** The finished trials, in groups of one recipe, game and machine. */
function groupsOf(trials: readonly Take[]): Take[][] {
  const groups = new Map<string, Take[]>();
  for (const take of trials.filter((t) => t.state === 'closed')) {
    const key = orderKey(take);
    groups.set(key, [...(groups.get(key) ?? []), take]);
  }
  return [...groups.values()];
}

const listOf = (takes: readonly Take[], name: TrialFigure['name']): number[] =>
  takes.flatMap((take) => comparable(take, name) ?? []);

/**
 * Two recipes by their trials and the repeats of both: each figure's difference against a t-interval from the spread of all
 * repeats of the setup. The figures share one rate of false alarms (Sidak), so that equal recipes are called different in 5 %.
 */
export function compareTrials(a: Take, b: Take, all: readonly Take[]): Comparison {
  const names = trialFigures(a)
    .map((figure) => figure.name)
    .filter((name) => trialFigures(b).some((figure) => figure.name === name));
  if (!names.length) return { verdict: 'unknown', text: '' };
  const groups = groupsOf(all);
  const repeats = groups.reduce((sum, group) => sum + group.length - 1, 0);
  if (repeats < leastDegrees) return { verdict: 'unknown', text: missingWords(leastDegrees - repeats) };
  if (orderKey(a) === orderKey(b)) return { verdict: 'equal', text: 'A repeat: what differs here is chance.' };
  const groupOf = (take: Take): readonly Take[] => groups.find((g) => orderKey(g[0]!) === orderKey(take)) ?? [take];
  // A figure that is the same in all of them, as where nothing is lost, cannot raise a false alarm and takes no part of it.
  const varying = names.filter((name) => new Set(groups.flatMap((group) => listOf(group, name))).size > 1);
  const p = 1 - (1 - (1 - falseAlarms) ** (1 / Math.max(1, varying.length))) / 2;
  const beyond = varying.flatMap((name) => {
    const { sd, degrees } = pooledSpread(groups.map((group) => listOf(group, name)));
    const [from, to] = [listOf(groupOf(a), name), listOf(groupOf(b), name)];
    if (!from.length || !to.length || degrees < leastDegrees) return [];
    const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
    const change = mean(to) - mean(from);
    const limit =
      studentTQuantile(p, degrees) * Math.max(sd, kinds[name].leastSd) * Math.sqrt(1 / from.length + 1 / to.length);
    return Math.abs(change) > limit ? [`${name} ${changeWords(name, change, limit)}`] : [];
  });
  if (!beyond.length) return { verdict: 'equal', text: 'Equal: they differ no more than repeats of one recipe do.' };
  return { verdict: 'differ', text: beyond.join(', ') };
}

function missingWords(missing: number): string {
  return `${plural(missing, 'repeat')} of one trial ${missing === 1 ? 'is' : 'are'} missing to tell a difference from chance.`;
}

/** The change with its interval: "−27 % (±6)". */
function changeWords(name: TrialFigure['name'], change: number, limit: number): string {
  if (!kinds[name].ratio && name === 'lost') return `${signed(change * 100, 2)} % (±${(limit * 100).toFixed(2)})`;
  if (!kinds[name].ratio) return `${signed(change * 100, 1)} points (±${(limit * 100).toFixed(1)})`;
  const share = Math.expm1(change);
  const sign = share < 0 ? '−' : '+';
  return `${sign}${formatPercent(Math.abs(share))} (±${(Math.expm1(limit) * 100).toFixed(Math.expm1(limit) < 0.02 ? 1 : 0)})`;
}
