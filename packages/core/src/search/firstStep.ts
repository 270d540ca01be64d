import type { Judged, LimitName, Recipe } from '@mellow/model';
import { adviceFor, type Advice } from '../advice';
import type { Forecast, Predicted } from '../forecast';
import { judgeRecipe, quantitiesOf, troubles, type Judgement } from '../judge';
import { capitalised, formatFps } from '../units';
import type { Looked } from './looked';
import { capThatMends, mend, type Goal, type Mended, type SearchOrder } from './remedies';

/** The one line that Path opens with: what to do next, why, and what it gains. */
export interface FirstStep {
  /** What it is about: a rule's id, or a limit's name. */
  id: string;
  /** No take can be made before it is done. */
  stops: boolean;
  title: string;
  text: string;
  /** Words of the button; null where a person has to act. */
  label: string | null;
  recipe: Recipe | null;
}

/** How a recipe stands before a trial: every limit judged, and what to do first; null where nothing has to change. */
export interface RecipeJudgement {
  judged: Judgement[];
  first: FirstStep | null;
}

/** What costs a take nothing while it rolls, and cannot be had back, or is felt at each cut, afterwards. */
const neverBack: readonly string[] = [
  'no-sound',
  'voice-mixed',
  'first-lane-part',
  'keys-far',
  'hdr-display',
  'lossless-to-publish',
];

/**
 * Judges a recipe by everything that is foretold of it, and looks for what mends the worst of it. What stops a take comes first, then
 * limits that are beyond, then rules of fact.
 * @param measured what the last trial of this very recipe found: it goes before what is foretold
 */
export function judgeAndMend(
  recipe: Recipe,
  { context, seed, seeds }: SearchOrder,
  forecast: Forecast,
  predicted: Predicted,
  measured: readonly Judged[] = [],
): RecipeJudgement {
  const looked: Looked = {
    ...{ recipe, forecast, simulated: predicted },
    judged: judgeRecipe(recipe, context, forecast, predicted),
  };
  const judged = judgeRecipe(recipe, context, forecast, predicted, quantitiesOf(measured));
  const advice = adviceFor(recipe, context, forecast);
  const stop = advice.find(({ weight }) => weight === 'stops');
  if (stop) return { judged, first: fromAdvice(stop) };
  const worst = troubles(judged)[0];
  if (worst) return { judged, first: stepFor(worst, looked, { context, seed, seeds }) };
  const risks = advice.filter(({ weight }) => weight === 'risk');
  const rule =
    risks.find(({ remedies }) => remedies.some((remedy) => remedy.recipe)) ??
    risks.find(({ remedies }) => remedies.length) ??
    advice.find(({ id }) => neverBack.includes(id));
  return { judged, first: rule ? fromAdvice(rule) : null };
}

function fromAdvice({ id, weight, title, text, remedies }: Advice): FirstStep {
  const remedy = remedies.find((one) => one.recipe) ?? remedies[0] ?? null;
  const todo = remedy && !remedy.recipe && remedy.instruction ? ` ${remedy.instruction}` : '';
  return {
    ...{ id, title, stops: weight === 'stops', text: `${text}${todo}` },
    ...{ label: remedy?.recipe ? remedy.label : null, recipe: remedy?.recipe ?? null },
  };
}

/** Limits of a take that are not foretold, and what is instead: what mends that mends them. */
const standsFor: Partial<Record<LimitName, LimitName>> = {
  slowest: 'play-cost',
  hole: 'lost',
  'worst-second': 'picture',
};

/** Limits that a cap of the game may mend. */
const cappable: readonly string[] = ['lost', 'play-cost', 'head-room'];

/** Where no recipe helps, what outside it does. */
const outside: Partial<Record<Judgement['limit'], string>> = {
  room: 'Make room, or add a folder on another drive',
  'drive-rate': 'Use a faster drive for takes',
  repeats: 'Raise the game’s rate: a higher cap, or lower graphics',
  still: 'See whether the game draws where it is recorded',
  judder: 'Cap the game at twice the file’s rate',
  'small-text': 'Set larger text in the game',
  picture: 'Ask less of the picture on Brief: no recipe gives it here',
  'worst-second': 'Take a better quality number, or a higher bitrate',
  opens: 'Choose another editor on Brief',
  heard: 'See whether every sound is heard, on Sound',
  clipped: 'Turn down what is too loud, on Sound',
  camera: 'See to the camera: its plug, and what else uses it',
  length: 'Make the trial again',
  'as-asked': 'Look at what the file has otherwise, in the trial',
  hole: 'See in the trial where the hole is, and what was busy then',
  'if-it-dies': 'Ask less safety on Brief, or record to Matroska',
};

function stepFor(worst: Judgement, looked: Looked, order: SearchOrder): FirstStep {
  const searched = standsFor[worst.limit] ?? worst.limit;
  const foretold = looked.judged.find(({ limit }) => limit === searched)?.over ?? 0;
  const goal = { limit: searched, scale: foretold > 0 && Number.isFinite(worst.over) ? worst.over / foretold : 1 };
  const searchable = foretold > 0;
  const found = searchable ? mend(looked, goal, order) : null;
  const why =
    worst.sentence.includes(worst.asked) || !/\d/.test(worst.asked)
      ? worst.sentence
      : `${worst.sentence} ${capitalised(worst.asked)} was asked.`;
  if (found) return mendedStep(worst, goal, why, found);
  const cap = searchable && cappable.includes(searched) ? capThatMends(looked, goal, order) : null;
  return {
    ...{ id: worst.limit, stops: false, label: null, recipe: null },
    ...(cap === null
      ? {
          title: outside[worst.limit] ?? (searchable ? 'Lower the game’s graphics' : 'Make the trial again'),
          text: searchable
            ? `${why} No change of the recipe, and no two of them, mend it.`
            : outside[worst.limit]
              ? why
              : `${why} The forecast sees no cause of it in the recipe: see in the trial what was busy.`,
        }
      : {
          title: `Cap the game at ${formatFps(cap)}`,
          text: `${why} No change of the recipe mends it; a cap in the game itself does by the same forecast.`,
        }),
  };
}

function mendedStep(
  worst: Judgement,
  { limit: searched, scale }: Goal,
  why: string,
  { steps, after }: Mended,
): FirstStep {
  const title = steps.map(({ label }) => label).join(', and ');
  const now = after.judged.find(({ limit }) => limit === searched);
  const of = now && searched !== worst.limit ? `${now.name.toLowerCase()} ` : '';
  const gain =
    now && /\d/.test(now.found)
      ? ` With ${steps.length > 1 ? 'both' : 'it'}${scale === 1 ? '' : ', by the forecast'}: ${of}${now.found}.`
      : '';
  return {
    ...{ id: worst.limit, stops: false, title, text: `${why}${gain}` },
    ...{ label: title, recipe: after.recipe },
  };
}
