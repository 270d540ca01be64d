import { encoders, type Recipe } from '@mellow/model';
import { encoderFacts, withEncoder } from '../codec';
import { tightest, type Forecast } from '../forecast';
import { sizeByLines } from '../picture';
import { effortWords } from '../recipe';
import { formatFps, formatKbps, formatSize, framesPerSecond } from '../units';
import { onAvcScale, onOwnScale, setEncode, setRate, setSize, type Look } from './rule';
import { leastTextPx } from './look';

/** A step that relieves a machine which struggles, with what it gains. */
export interface ReliefStep {
  label: string;
  recipe: Recipe | null;
  /** What to do where the recipe cannot help. */
  instruction: string | null;
  before: Forecast;
  after: Forecast | null;
}

/** The busiest 1 % may take so much of the budget before a machine counts as struggling, and is good again. */
export const goodShare = 0.9;
const leastGain = 0.03;

/**
 * What to lower first, in the order of practice: size, quality or bitrate, effort, frame rate, a hardware encoder, lanes,
 * the game's graphics. Steps that do not relieve the station that decides are passed over; the list ends where the forecast is good.
 */
export function reliefSteps(look: Look, allowed: (recipe: Recipe) => Recipe): ReliefStep[] {
  const steps: ReliefStep[] = [];
  let current = look.recipe;
  let forecast = look.forecast;
  const struggles = (f: Forecast): boolean => (tightest(f)?.share ?? 0) > goodShare;
  if (!struggles(forecast)) return steps;
  for (const step of ladder) {
    for (let again = 0; again < 3 && struggles(forecast); again++) {
      const offer = step({
        ...look,
        recipe: current,
        forecast,
        facts: encoderFacts[current.encode.encoder],
        fps: framesPerSecond(current.rate),
      });
      if (!offer) break;
      const recipe = allowed(offer.recipe);
      const after = look.forecastOf(recipe);
      const [was, is] = [tightest(forecast), tightest(after)];
      const station = was?.station;
      const load = station ? after.loads[station] : null;
      const now = load ? load.busiest / load.budget : 0;
      if (!was || !is || now > was.share * (1 - leastGain) || is.share > was.share) break;
      steps.push({ label: offer.label, recipe, instruction: null, before: forecast, after });
      current = recipe;
      forecast = after;
    }
  }
  if (struggles(forecast))
    steps.push({
      label: 'Lower the game’s graphics',
      recipe: null,
      instruction:
        'Nothing in the recipe is left to lower. Lower shadows, effects and distance in the game, which frees processor and card.',
      before: forecast,
      after: null,
    });
  return steps;
}

type Step = (look: Look) => { label: string; recipe: Recipe } | null;
const lineSteps = [1440, 1080, 900, 720] as const;

const ladder: Step[] = [
  (look) => {
    const { recipe, game } = look;
    const lines = lineSteps.find((l) => l < Math.min(recipe.size.heightPx, game.heightPx * 0.93));
    if (!lines || (game.facts.smallTextPx * lines) / game.heightPx < leastTextPx) return null;
    const size = sizeByLines(game, lines);
    return { label: `File ${formatSize(size.widthPx, size.heightPx)}`, recipe: setSize(recipe, size) };
  },
  (look) => {
    const { recipe, fps } = look;
    const { encode } = recipe;
    if (encode.rateControl === 'constant-quality') {
      const next = onOwnScale(look, onAvcScale(look, encode.quality) + 3);
      return onAvcScale(look, next) > 26.5
        ? null
        : { label: `Quality ${next}`, recipe: setEncode(recipe, { quality: next }) };
    }
    if (encode.rateControl !== 'constant-bitrate' && encode.rateControl !== 'variable-bitrate') return null;
    const least = (0.085 * recipe.size.widthPx * recipe.size.heightPx * fps) / 1000;
    const kbps = Math.round((encode.bitrateKbps * 0.75) / 100) * 100;
    return kbps < least ? null : { label: formatKbps(kbps), recipe: setEncode(recipe, { bitrateKbps: kbps }) };
  },
  (look) => {
    const { efforts } = look.facts;
    const lighter = efforts[efforts.indexOf(look.recipe.encode.effort) - 1];
    return lighter
      ? { label: `Effort ${effortWords[lighter]}`, recipe: setEncode(look.recipe, { effort: lighter }) }
      : null;
  },
  (look) => {
    if (look.brief.purpose === 'slow-motion' || look.fps < 48) return null;
    const half =
      look.fps / 2 >= 24
        ? setRate(
            look.recipe,
            look.recipe.rate.num % 2 === 0 ? look.recipe.rate.num / 2 : look.recipe.rate.num,
            look.recipe.rate.num % 2 === 0 ? look.recipe.rate.den : look.recipe.rate.den * 2,
          )
        : null;
    return half ? { label: `File ${formatFps(look.fps / 2)}`, recipe: half } : null;
  },
  (look) => {
    if (look.facts.place !== 'software' || !look.facts.quality) return null;
    const block = encoders.find(
      (e) =>
        encoderFacts[e].place !== 'software' &&
        encoderFacts[e].standard === look.facts.standard &&
        look.machine?.encoders.some((s) => s.encoder === e && s.works),
    );
    return block ? { label: 'The card’s encoder', recipe: withEncoder(look.recipe, block) } : null;
  },
  (look) => {
    const lighter = {
      'hevc-software': 'avc-software',
      'av1-software': 'avc-software',
      'ffv1-software': 'utvideo-software',
    } as const;
    const name = look.recipe.encode.encoder;
    return name in lighter
      ? {
          label: name === 'ffv1-software' ? 'The lighter lossless codec' : 'AVC',
          recipe: withEncoder(look.recipe, lighter[name as keyof typeof lighter]),
        }
      : null;
  },
  // The first lane holds everything, so one alone loses nothing that is heard.
  ({ recipe }) =>
    recipe.lanes.length > 1
      ? { label: 'One sound lane', recipe: { ...recipe, lanes: recipe.lanes.slice(0, 1) } }
      : null,
];
