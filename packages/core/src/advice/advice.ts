import type { PathPlaceName, Recipe } from '@mellow/model';
import { encoderFacts } from '../codec';
import { driveOf, forecastOf, tightest, type Forecast, type ForecastContext } from '../forecast';
import { changedSettings, keepLocked } from '../recipe/settings';
import { capitalised, framesPerSecond } from '../units';
import { captureRules } from './captureRules';
import { driveRules } from './driveRules';
import { encodeRules } from './encodeRules';
import { cameraRules } from './cameraRules';
import { groupRules } from './groupRules';
import { clashRules, packRules } from './packRules';
import { rateRules } from './rateRules';
import { goodShare, ladderRungs, reliefSteps, type ReliefStep, type Rung } from './relief';
import { adviceWeights, type AdviceWeight, type Look, type Rule } from './rule';
import { sizeRules } from './sizeRules';
import { soundRules } from './soundRules';
import { systemRules } from './systemRules';

/** Every rule there is; screens and tests go through this list. */
export const rules: readonly Rule[] = [
  ...clashRules,
  ...captureRules,
  ...sizeRules,
  ...rateRules,
  ...encodeRules,
  ...groupRules,
  ...cameraRules,
  ...packRules,
  ...soundRules,
  ...driveRules,
  ...systemRules,
];

export interface Remedy {
  label: string;
  recipe: Recipe | null;
  instruction: string | null;
  /** Forecast with the remedy, by the same function as the one on the screen. */
  after: Forecast | null;
}

export interface Advice {
  id: string;
  station: PathPlaceName;
  weight: AdviceWeight;
  title: string;
  text: string;
  remedies: Remedy[];
}

export function lookAt(recipe: Recipe, context: ForecastContext, forecast = forecastOf(recipe, context)): Look {
  return {
    recipe,
    forecast,
    context,
    game: context.game,
    brief: context.brief,
    machine: context.machine,
    drive: driveOf(recipe, context),
    facts: encoderFacts[recipe.encode.encoder],
    fps: framesPerSecond(recipe.rate),
    forecastOf: (other) => forecastOf(other, context),
  };
}

/** What is wrong with a recipe, worst first, with remedies. Locked settings are never touched: a remedy that would change nothing else is left out. */
export function adviceFor(recipe: Recipe, context: ForecastContext, forecast?: Forecast): Advice[] {
  const look = lookAt(recipe, context, forecast);
  const found: Advice[] = [];
  for (const rule of rules) {
    const result = rule.check(look);
    if (!result) continue;
    const weight = typeof rule.weight === 'function' ? rule.weight(look) : rule.weight;
    const remedies = result.remedies.flatMap((offer): Remedy[] => {
      if (!offer.change)
        return [{ label: offer.label, recipe: null, instruction: offer.instruction ?? null, after: null }];
      const changed = keepLocked(recipe, offer.change, context.locks);
      if (!changedSettings(recipe, changed).length) return [];
      return [{ label: offer.label, recipe: changed, instruction: null, after: forecastOf(changed, context) }];
    });
    found.push({
      id: rule.id,
      station: rule.station,
      weight,
      title: capitalised(result.title),
      text: result.text,
      remedies,
    });
  }
  return found.sort((a, b) => adviceWeights.indexOf(a.weight) - adviceWeights.indexOf(b.weight));
}

/** What to lower when the machine struggles, in the order of practice, ending where the forecast is good. */
export function reliefFor(recipe: Recipe, context: ForecastContext, forecast?: Forecast): ReliefStep[] {
  return reliefSteps(lookAt(recipe, context, forecast), (changed) => keepLocked(recipe, changed, context.locks));
}

/** The whole ladder as it stands for a recipe, each rung by itself. */
export function ladderFor(recipe: Recipe, context: ForecastContext, forecast?: Forecast): Rung[] {
  return ladderRungs(lookAt(recipe, context, forecast), (changed) => keepLocked(recipe, changed, context.locks));
}

export interface NextStep {
  title: string;
  text: string;
  /** A button that does it; null where a trial or a person does. */
  remedy: Remedy | null;
}

/** What costs a take nothing while it rolls, and cannot be had back, or is felt at each cut, afterwards. */
const neverBack: readonly string[] = [
  'no-sound',
  'voice-mixed',
  'first-lane-part',
  'keys-far',
  'bitrate-low',
  'quality-coarse',
  'lossless-to-publish',
];

/** The one line a forecast opens with: what to do next and what it gains. */
export function nextStep(
  recipe: Recipe,
  context: ForecastContext,
  forecast: Forecast,
  advice: readonly Advice[],
): NextStep | null {
  const worst = advice[0];
  if (worst?.weight === 'stops') return fromAdvice(worst);
  const relief = reliefFor(recipe, context, forecast)[0];
  if (relief) {
    const tight = tightest(relief.before);
    const station = tight?.station ?? 'encode';
    const [was, is] = [relief.before.loads[station], relief.after?.loads[station]];
    const unit = was?.unit ?? 'ms';
    return {
      title: relief.label,
      text:
        relief.instruction ??
        (was && is
          ? `${stationName(station)} falls from ${was.busiest.toFixed(1)} to ${is.busiest.toFixed(1)} of ${is.budget.toFixed(1)} ${unit} in the busiest 1 %${is.busiest / is.budget <= goodShare ? ', which is good' : ''}.`
          : ''),
      remedy: { label: relief.label, recipe: relief.recipe, instruction: relief.instruction, after: relief.after },
    };
  }
  const risks = advice.filter((a) => a.weight === 'risk');
  const first =
    risks.find((a) => a.remedies.some((r) => r.recipe)) ??
    risks.find((a) => a.remedies.length) ??
    advice.find((a) => neverBack.includes(a.id) && a.remedies.some((r) => r.recipe));
  return first ? fromAdvice(first) : null;
}

function stationName(station: string): string {
  return station.charAt(0).toUpperCase() + station.slice(1);
}
function fromAdvice(advice: Advice): NextStep {
  return {
    title: advice.title,
    text: advice.text,
    remedy: advice.remedies.find((r) => r.recipe) ?? advice.remedies[0] ?? null,
  };
}
