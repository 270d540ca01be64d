import type { PathPlaceName, Recipe } from '@mellow/model';
import { encoderFacts } from '../codec';
import { driveOf, forecastOf, type Forecast, type ForecastContext } from '../forecast';
import { recipeClashes } from '../recipe/clashes';
import { changedSettings, keepLocked } from '../recipe/settings';
import { capitalised, framesPerSecond } from '../units';
import { captureRules } from './captureRules';
import { driveRules } from './driveRules';
import { encodeRules } from './encodeRules';
import { cameraRules } from './cameraRules';
import { groupRules } from './groupRules';
import { clashRules, packRules } from './packRules';
import { rateRules } from './rateRules';
import { ladderRungs, reliefSteps, type ReliefStep, type Rung } from './relief';
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

const stopsOf = (recipe: Recipe): string[] =>
  recipeClashes(recipe).flatMap(({ id, weight }) => (weight === 'stops' ? [id] : []));
/** A change brings about a clash that was not there, with which no take can be made. */
function bringsStop(before: Recipe, after: Recipe): boolean {
  const known = stopsOf(before);
  return stopsOf(after).some((id) => !known.includes(id));
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
      if (!changedSettings(recipe, changed).length || bringsStop(recipe, changed)) return [];
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
