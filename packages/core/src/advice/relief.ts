import type { Recipe } from '@mellow/model';
import { filedSize } from '../picture/camera';
import { encoderFacts, encoderWords, hasQualityNumber, withEncoder } from '../codec';
import { tightest, type Forecast } from '../forecast';
import { sizeByLines } from '../picture';
import { effortWords } from '../recipe';
import { formatFps, formatKbps, formatSize, framesPerSecond } from '../units';
import { setEncode, setRate, setSize } from '../recipe/change';
import { onAvcScale, onOwnScale, type Look } from './rule';
import { fasterDriveWithRoom } from './driveRules';
import { leastTextPx } from '../judge';
import { blocksThatWork } from './look';

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
 * What to do first: what costs the picture nothing (a block that works, another drive, a lighter lossless codec, fewer lanes), then what
 * costs size (effort, an older standard), then what is seen (quality, lines, frame rate), and the game's own settings last. Steps that do
 * not relieve the station that decides are passed over; the list ends where the forecast is good.
 */
export function reliefSteps(look: Look, allowed: (recipe: Recipe) => Recipe): ReliefStep[] {
  const steps: ReliefStep[] = [];
  let current = look.recipe;
  let forecast = look.forecast;
  const struggles = (f: Forecast): boolean => (tightest(f)?.share ?? 0) > goodShare;
  if (!struggles(forecast)) return steps;
  for (const step of ladder()) {
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

/** One rung of the ladder() by itself: what it would gain now, and whether it relieves the station that decides. */
export interface Rung {
  label: string;
  recipe: Recipe;
  after: Forecast;
  /** Share of its budget that the station which decides takes, before and after. */
  share: { before: number; after: number };
  relieves: boolean;
}

/** Every rung that the recipe leaves open, in the order of the ladder(), each taken alone. */
export function ladderRungs(look: Look, allowed: (recipe: Recipe) => Recipe): Rung[] {
  const tight = tightest(look.forecast);
  if (!tight) return [];
  return ladder().flatMap((step): Rung[] => {
    const offer = step(look);
    if (!offer) return [];
    const recipe = allowed(offer.recipe);
    if (JSON.stringify(recipe) === JSON.stringify(look.recipe)) return [];
    const after = look.forecastOf(recipe);
    const load = after.loads[tight.station];
    const share = { before: tight.share, after: load ? load.busiest / load.budget : 0 };
    return [{ label: offer.label, recipe, after, share, relieves: share.after <= share.before * (1 - leastGain) }];
  });
}

type Step = (look: Look) => { label: string; recipe: Recipe } | null;
const lineSteps = [1440, 1080, 900, 720] as const;

/** A block that works here and that the editor opens: of the same standard first. */
const toBlock: Step = (look) => {
  if (look.facts.place !== 'software' || !look.facts.quality || look.recipe.encode.rateControl === 'lossless')
    return null;
  if (look.recipe.encode.pixels !== '4:2:0') return null;
  const working = blocksThatWork(look).filter((e) => look.brief.editor !== 'old' || encoderFacts[e].standard === 'AVC');
  const same = working.find((e) => encoderFacts[e].standard === look.facts.standard);
  const block = same ?? working[0];
  return block ? { label: `Use ${encoderWords(block)}`, recipe: withEncoder(look.recipe, block) } : null;
};

const toDrive: Step = (look) => {
  const drive = fasterDriveWithRoom(look);
  return drive ? { label: `Use ${drive.name}`, recipe: { ...look.recipe, driveId: drive.id } } : null;
};

const toLighterLossless: Step = ({ recipe }) =>
  recipe.encode.encoder === 'ffv1-software'
    ? { label: 'The lighter lossless codec', recipe: withEncoder(recipe, 'utvideo-software') }
    : null;

/** Fewer bytes for more work, every pixel kept. */
const toDenserLossless: Step = ({ recipe }) =>
  recipe.encode.encoder === 'utvideo-software'
    ? { label: 'The denser lossless codec', recipe: withEncoder(recipe, 'ffv1-software') }
    : null;

/** Where no lossless codec is carried: a quality that effects still stand. */
const toNearlyLossless: Step = ({ recipe }) =>
  recipe.encode.rateControl === 'lossless'
    ? {
        label: 'AVC at quality 12',
        recipe: setEncode(withEncoder(recipe, 'avc-software'), { rateControl: 'constant-quality', quality: 12 }),
      }
    : null;

// The first lane holds everything, so one alone loses nothing that is heard.
const toOneLane: Step = ({ recipe }) =>
  recipe.lanes.length > 1 ? { label: 'One sound lane', recipe: { ...recipe, lanes: recipe.lanes.slice(0, 1) } } : null;

const toLighterEffort: Step = (look) => {
  const { efforts } = look.facts;
  const lighter = efforts[efforts.indexOf(look.recipe.encode.effort) - 1];
  return lighter
    ? { label: `Effort ${effortWords[lighter]}`, recipe: setEncode(look.recipe, { effort: lighter }) }
    : null;
};

const toAvc: Step = ({ recipe }) =>
  recipe.encode.encoder === 'hevc-software' || recipe.encode.encoder === 'av1-software'
    ? { label: 'AVC', recipe: withEncoder(recipe, 'avc-software') }
    : null;

const toCoarser: Step = (look) => {
  const { recipe, fps } = look;
  const { encode } = recipe;
  if (hasQualityNumber(encode)) {
    const next = onOwnScale(look, onAvcScale(look, encode.quality) + 3);
    if (next <= encode.quality || onAvcScale(look, next) > 26.5) return null;
    return { label: `Quality ${next}`, recipe: setEncode(recipe, { quality: next }) };
  }
  if (encode.rateControl !== 'constant-bitrate' && encode.rateControl !== 'variable-bitrate') return null;
  const { widthPx, heightPx } = filedSize(recipe);
  const least = (0.085 * widthPx * heightPx * fps) / 1000;
  const kbps = Math.round((encode.bitrateKbps * 0.75) / 100) * 100;
  return kbps < least ? null : { label: formatKbps(kbps), recipe: setEncode(recipe, { bitrateKbps: kbps }) };
};

const toSmaller: Step = ({ recipe, game }) => {
  const lines = lineSteps.find((l) => l < Math.min(recipe.size.heightPx, game.heightPx * 0.93));
  if (!lines || (game.facts.smallTextPx * lines) / game.heightPx < leastTextPx) return null;
  const size = sizeByLines(game, lines);
  return { label: `File ${formatSize(size.widthPx, size.heightPx)}`, recipe: setSize(recipe, size) };
};

const toHalfRate: Step = (look) => {
  const { num, den } = look.recipe.rate;
  if (look.brief.purpose === 'slow-motion' || look.fps < 48) return null;
  const recipe = num % 2 === 0 ? setRate(look.recipe, num / 2, den) : setRate(look.recipe, num, den * 2);
  return { label: `File ${formatFps(look.fps / 2)}`, recipe };
};

function ladder(): readonly Step[] {
  return [
    toBlock,
    toDrive,
    toLighterLossless,
    toDenserLossless,
    toOneLane,
    toLighterEffort,
    toAvc,
    toNearlyLossless,
    toCoarser,
    toSmaller,
    toHalfRate,
  ];
}
