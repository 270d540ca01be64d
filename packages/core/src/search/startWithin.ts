import { noCalibration, type Brief, type Recipe } from '@mellow/model';
import type { ForecastContext } from '../forecast';
import { troubles, type Judgement } from '../judge';
import { recipeFromBrief, type BriefContext, type Reason, type RecipeFromBrief } from '../recipe/fromBrief';
import { changedSettings } from '../recipe/settings';
import { givenUp } from './givenUp';
import { lookAtLoads, lookQuickly, type Looked } from './looked';
import { neighbours, type Neighbour } from './neighbours';

/** Changes after which a starting recipe is what it can be: each mends one limit, or brings it nearer. */
const mostChanges = 8;
/** What many draws show against four busy seconds at the worse end, about, over the recipes of both demo machines. */
const usualFactors = { misses: 0.3, cost: 0.5 };
/** The draws that starting recipes meet: of no setup, as none is there yet. */
const seed = 5;
/** A change that brings a limit no nearer than this is none. */
const leastRelief = 0.97;

const look = (recipe: Recipe, context: ForecastContext): Looked =>
  lookQuickly(lookAtLoads(recipe, context), context, seed, usualFactors);

/**
 * The starting recipe of a brief on a machine: what the brief asks for, changed by the search that Path uses until every limit holds
 * by a quick look, or none can be brought nearer. Each changed value names the limit that it follows from.
 */
export function startWithin(brief: Brief, around: BriefContext): RecipeFromBrief {
  const wished = recipeFromBrief(brief, around);
  const { game, machine, drives } = around;
  if (!machine) return wished;
  const context: ForecastContext = {
    ...{ game, brief, machine, drives, locks: [], start: wished.recipe },
    calibration: noCalibration,
  };
  let looked = look(wished.recipe, context);
  let { reasons } = wished;
  for (let change = 0; change < mostChanges; change++) {
    const worst = troubles(looked.judged)[0];
    const step = worst ? cheapestStep(looked, worst, context) : null;
    if (!worst || !step) break;
    reasons = reasonsAfter(reasons, looked.recipe, step, worst);
    looked = step.looked;
  }
  return { recipe: looked.recipe, reasons };
}

/** Relief is counted between these. */
const mostOver = 1e6;
const leastOver = 1e-3;

interface Step {
  neighbour: Neighbour;
  looked: Looked;
}

const overOf = ({ judged }: Looked, limit: Judgement['limit']): number =>
  judged.find((one) => one.limit === limit)?.over ?? 0;

/** The neighbour that mends a limit and gives up least; where none does, the one that gives up least for what it relieves. */
function cheapestStep(from: Looked, { limit }: Judgement, context: ForecastContext): Step | null {
  const now = new Map(troubles(from.judged).map((one) => [one.limit, one.over]));
  const worse = (looked: Looked): boolean =>
    troubles(looked.judged).some((one) => one.over > (now.get(one.limit) ?? 0) * 1.02);
  const was = overOf(from, limit);
  const found = neighbours(from.recipe, context).flatMap((neighbour) => {
    const loads = lookAtLoads(neighbour.recipe, context);
    // What is worse without a simulation needs none.
    if (worse(loads)) return [];
    const looked = lookQuickly(loads, context, seed, usualFactors);
    const is = overOf(looked, limit);
    if (worse(looked) || (is > 1 && is > was * leastRelief)) return [];
    const relief = Math.log(Math.min(was, mostOver) / Math.max(is, leastOver));
    return [{ neighbour, looked, mends: is <= 1, cost: givenUp(from, looked, context.brief), relief }];
  });
  const mending = found.filter(({ mends }) => mends).sort((a, b) => a.cost - b.cost)[0];
  return mending ?? found.sort((a, b) => a.cost / a.relief - b.cost / b.relief)[0] ?? null;
}
/** The reasons of what a step left alone, and for each setting it changed the limit that it follows from. */
function reasonsAfter(
  reasons: readonly Reason[],
  before: Recipe,
  { neighbour, looked }: Step,
  worst: Judgement,
): Reason[] {
  const changed = changedSettings(before, neighbour.recipe);
  const now = looked.judged.find(({ limit }) => limit === worst.limit);
  const text = `${worst.sentence}${now ? ` So it is ${now.found}.` : ''}`;
  return [
    ...reasons.filter(({ setting }) => !changed.includes(setting)),
    ...changed.map((setting): Reason => ({ setting, answer: worst.answer, text })),
  ];
}
