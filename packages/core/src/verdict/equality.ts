import type { Take } from '@mellow/model';
import { bitrateOf } from '../storage';
import { formatBitrate, formatMs, formatPercent, signed } from '../units';
import { playCostShare } from '../ledger';

/** A figure of a trial that comparisons look at. */
export interface TrialFigure {
  name: 'size' | 'lost' | 'play cost' | 'encode load';
  value: number;
}

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

const sameOrder = (a: Take, b: Take): boolean =>
  JSON.stringify(a.recipe) === JSON.stringify(b.recipe) && JSON.stringify(a.game) === JSON.stringify(b.game);

/** Largest difference between repeats of one recipe, for each figure; empty without repeats. */
export function repeatSpread(trials: readonly Take[]): Map<TrialFigure['name'], number> {
  const spread = new Map<TrialFigure['name'], number>();
  for (let i = 0; i < trials.length; i++) {
    for (let j = i + 1; j < trials.length; j++) {
      const [a, b] = [trials[i], trials[j]];
      if (!a || !b || !sameOrder(a, b)) continue;
      const other = new Map(trialFigures(b).map((f) => [f.name, f.value]));
      for (const figure of trialFigures(a)) {
        const value = other.get(figure.name);
        if (value !== undefined)
          spread.set(figure.name, Math.max(spread.get(figure.name) ?? 0, Math.abs(value - figure.value)));
      }
    }
  }
  return spread;
}

/** Two trials that differ less than repeats of one recipe do are called equal. */
export function compareTrials(a: Take, b: Take, all: readonly Take[]): Comparison {
  const spread = repeatSpread(all.filter((t) => t.state === 'closed'));
  if (!spread.size)
    return { verdict: 'unknown', text: 'Repeat one trial unchanged to see how much equal recipes differ.' };
  if (!trialFigures(a).length || !trialFigures(b).length) return { verdict: 'unknown', text: '' };
  const before = new Map(trialFigures(a).map((f) => [f.name, f.value]));
  const beyond: string[] = [];
  for (const { name, value } of trialFigures(b)) {
    const from = before.get(name);
    if (from === undefined) continue;
    const change = value - from;
    if (Math.abs(change) > (spread.get(name) ?? 0)) beyond.push(`${name} ${changeWords(name, change)}`);
  }
  if (!beyond.length) return { verdict: 'equal', text: 'Equal: they differ less than repeats of one recipe do.' };
  return { verdict: 'differ', text: beyond.join(', ') };
}

function changeWords(name: TrialFigure['name'], change: number): string {
  if (name === 'size') return `${change < 0 ? '−' : '+'}${formatBitrate(Math.abs(change))}`;
  if (name === 'encode load') return `${change < 0 ? '−' : '+'}${formatMs(Math.abs(change))}`;
  if (name === 'lost') return `${change < 0 ? '−' : '+'}${formatPercent(Math.abs(change))}`;
  return `${signed(change * 100, 1)} points`;
}
