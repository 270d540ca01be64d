import type { ForecastContext } from '../forecast';
import { troubles, type Judgement } from '../judge';
import { changedSettings } from '../recipe/settings';
import { framesPerSecond } from '../units';
import { givenUp } from './givenUp';
import { factorsBetween, lookAtLoads, lookQuickly, lookThoroughly, type Looked, type QuickFactors } from './looked';
import { neighbours, type Neighbour } from './neighbours';

/** One change, or two where none alone is enough, with what is foretold of it by as many draws as the recipe itself. */
export interface Mended {
  steps: Neighbour[];
  after: Looked;
}

/** What is tried before a remedy is offered. */
export interface SearchOrder {
  context: ForecastContext;
  seed: number;
  /** Draws that a remedy is confirmed with: those that the page shows. */
  seeds: number;
}

const simulatedLimits: readonly string[] = ['lost', 'play-cost'];
/** Candidates that are looked at with few draws, and what they may show at most to be looked at with all. */
const mostScreened = 24;
const screeningSeeds = 3;
const farBeyond = 1.3;
/** Candidates that are simulated in full before the search gives up. */
const mostConfirmed = 6;
/** Of the recipes that one change leads to so many are taken for a second one. */
const mostFirstSteps = 3;
/** A change that brings a limit no nearer than this relieves nothing. */
const leastRelief = 0.97;
/** What counts against two changes of which the worse end does not hold. */
const unsureCost = 1.5;
/** Beyond this it does not matter by how much. */
const mostStrain = 100;

/** A limit that is to hold, and by how much what was measured of it is above what is foretold: 1 where nothing was. */
export interface Goal {
  limit: Judgement['limit'];
  scale: number;
}

/** By how much a recipe is beyond its limit: 1 is just within. */
const overOf = ({ judged }: Looked, { limit, scale }: Goal): number => {
  const over = judged.find((one) => one.limit === limit)?.over ?? 0;
  return over === 0 ? 0 : over * scale;
};
const breaks = (looked: Looked, goal: Goal): boolean => overOf(looked, goal) > 1 + 1e-9;

/** Nothing that held, or was only unclear, is beyond its limit now; what is broken already does not get worse by much. */
function harmless(from: Looked, to: Looked): boolean {
  const before = new Map(troubles(from.judged).map((one) => [one.limit, one]));
  return troubles(to.judged).every(({ limit, over }) => {
    const was = before.get(limit);
    return was !== undefined && (over <= was.over * 1.02 || !Number.isFinite(over));
  });
}

/** What a recipe asks of the machine and of the game, of their limits. */
const strain = ({ judged }: Looked): number =>
  judged
    .filter(({ limit }) => limit === 'lost' || limit === 'play-cost' || limit === 'head-room' || limit === 'drive-rate')
    .reduce((sum, { over }) => sum + Math.min(over, mostStrain), 0);
/** A second change that changes nothing of this is no second step. */
const eases = (first: Looked, second: Looked): boolean =>
  strain(second) < strain(first) * leastRelief || troubles(second.judged).length < troubles(first.judged).length;

/** The second of two changes leaves alone what the first has set; key pictures follow the rate. */
function apart(from: Looked, first: Looked, second: Looked): boolean {
  const set = new Set(changedSettings(from.recipe, first.recipe));
  return changedSettings(first.recipe, second.recipe).every((key) => key === 'keyDistance' || !set.has(key));
}

/** Nothing that a simulation looks at differs by more than a hundredth: it would show the same. */
function sameWork({ recipe: a, forecast: from }: Looked, { recipe: b, forecast: to }: Looked): boolean {
  const near = (x: number, y: number): boolean => Math.abs(x - y) <= Math.max(x, y) * 0.01;
  return (
    a.encode.encoder === b.encode.encoder &&
    a.rate.num * b.rate.den === b.rate.num * a.rate.den &&
    near(from.work.encode.value, to.work.encode.value) &&
    near(from.work.size?.value ?? 0, to.work.size?.value ?? 0) &&
    near(from.bits.value, to.bits.value) &&
    near(from.speed?.availableBytesPerSecond ?? 0, to.speed?.availableBytesPerSecond ?? 0)
  );
}

interface Candidate {
  steps: Neighbour[];
  looked: Looked;
  cost: number;
  mends: boolean;
  harmless: boolean;
}

/** Every neighbour by what costs nothing to compute, and by four busy seconds where that is not enough; cheapest first. */
function candidatesFor(from: Looked, goal: Goal, { context, seed }: SearchOrder, factors: QuickFactors): Candidate[] {
  const quickNow = lookQuickly(from, context, seed, factors);
  const before = worseOf(from, quickNow);
  return neighbours(from.recipe, context)
    .flatMap((neighbour): Candidate[] => {
      const loads = lookAtLoads(neighbour.recipe, context);
      // What needs no simulation is settled before one is made.
      if (simulatedLimits.includes(goal.limit) ? sameWork(from, loads) : breaks(loads, goal)) return [];
      const looked = lookQuickly(loads, context, seed, factors);
      return [
        {
          ...{ steps: [neighbour], looked, cost: givenUp(quickNow, looked, context.brief) },
          ...{ mends: !breaks(looked, goal), harmless: harmless(before, looked) },
        },
      ];
    })
    .sort((a, b) => a.cost - b.cost);
}

/** The troubles of both looks at one recipe: four seconds see other losses than many draws do. */
function worseOf(thorough: Looked, quick: Looked): Looked {
  const worst = new Map(troubles(quick.judged).map((one) => [one.limit, one]));
  for (const one of troubles(thorough.judged)) {
    const other = worst.get(one.limit);
    if (!other || other.over < one.over) worst.set(one.limit, one);
  }
  return { ...quick, judged: [...worst.values()] };
}

/**
 * The change by which a limit holds that gives up least in the brief's order; where none alone does, the cheapest two.
 * @param from the recipe as it is shown, with its simulation
 * @returns null where nothing in the recipe can mend it
 */
export function mend(from: Looked, goal: Goal, order: SearchOrder): Mended | null {
  const factors = factorsBetween(from, lookQuickly(from, order.context, order.seed));
  const quickNow = lookQuickly(from, order.context, order.seed, factors);
  const before = worseOf(from, quickNow);
  const candidates = candidatesFor(from, goal, order, factors);
  const usable = candidates.filter((one) => one.harmless);
  const relieves = ({ looked }: Candidate): boolean => overOf(looked, goal) < overOf(from, goal) * leastRelief;
  const single =
    firstConfirmed(
      from,
      goal,
      usable.filter(({ mends }) => mends),
      order,
    ) ??
    firstConfirmed(
      from,
      goal,
      usable.filter((one) => !one.mends && relieves(one)),
      order,
    );
  if (single) return single;
  const firsts = [
    // What relieves most, and what mends it but spoils something else, which a second change may put right.
    ...usable.filter(relieves).sort((a, b) => overOf(a.looked, goal) - overOf(b.looked, goal)),
    ...candidates.filter((one) => one.mends && !one.harmless),
  ];
  const pairs = [...firsts.slice(0, mostFirstSteps), ...firsts.slice(mostFirstSteps).slice(-mostFirstSteps)].flatMap(
    (first) =>
      candidatesFor(first.looked, goal, order, factors)
        .filter(
          (second) =>
            relieves(second) &&
            eases(first.looked, second.looked) &&
            apart(from, first.looked, second.looked) &&
            harmless(before, second.looked),
        )
        .map((second) => ({
          ...second,
          steps: [...first.steps, ...second.steps],
          // What does not hold at the worse end may hold in the mean; what does is tried first where it costs about as much.
          cost: first.cost + second.cost + (second.mends ? 0 : unsureCost),
        })),
  );
  return firstConfirmed(
    from,
    goal,
    pairs.toSorted((a, b) => a.cost - b.cost),
    order,
  );
}

function firstConfirmed(
  from: Looked,
  goal: Goal,
  candidates: readonly Pick<Candidate, 'steps' | 'looked'>[],
  { context, seed, seeds }: SearchOrder,
): Mended | null {
  let confirmed = 0;
  for (const { steps, looked } of candidates.slice(0, mostScreened)) {
    const screened = lookThoroughly(looked, context, seed, screeningSeeds);
    if (overOf(screened, goal) > farBeyond) continue;
    const after = lookThoroughly(looked, context, seed, seeds);
    if (!breaks(after, goal) && harmless(from, after)) return { steps, after };
    if (++confirmed >= mostConfirmed) return null;
  }
  return null;
}

/** Whether a cap at the file's own rate would mend it, where the game runs faster than that. */
export function capThatMends({ recipe }: Looked, goal: Goal, { context, seed, seeds }: SearchOrder): number | null {
  const cap = Math.ceil(framesPerSecond(recipe.rate));
  const { capFps } = context.game;
  if (capFps !== null && capFps <= cap) return null;
  const capped = { ...context, game: { ...context.game, capFps: cap } };
  const after = lookThoroughly(lookAtLoads(recipe, capped), capped, seed, seeds);
  return breaks(after, goal) ? null : cap;
}
