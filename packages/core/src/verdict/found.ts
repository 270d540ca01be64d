import { isGrabbed, type Fact, type LossRun, type SoundReport, type Take } from '@mellow/model';
import { filedSize } from '../picture/camera';
import { textHeightPx } from '../picture';
import { sourceWords } from '../recipe/words';
import { qualityWord } from '../codec/pictureQuality';
import { exactly, opensIn, type Known, type Quantities, type Quantity } from '../judge';
import { playCostShare } from '../ledger/gameRun';
import { noticedSilenceS } from '../sound';
import { bytesPerHour } from '../storage';
import {
  capitalised,
  formatCount,
  formatDbfs,
  formatDuration,
  formatMeanFps,
  formatMs,
  formatPercent,
  formatSeconds,
  formatSize,
  framesPerSecond,
  listWords,
  periodUs,
  plural,
} from '../units';
import { lossFacts } from './facts';
import { lostSentence } from './lossShape';

export type FoundInput = Pick<
  Take,
  | 'kind'
  | 'recipe'
  | 'source'
  | 'facts'
  | 'summary'
  | 'lengthS'
  | 'end'
  | 'endText'
  | 'game'
  | 'playCost'
  | 'likeness'
  | 'sounds'
  | 'camera'
  | 'cuts'
  | 'sampleLeftOut'
  | 'brief'
>;
type Summary = NonNullable<Take['summary']>;
type Facts = NonNullable<Take['facts']>;

/** A lane whose loudest sample stays below this holds nothing that is heard (common practice: a quiet room's noise). */
const silentDbfs = -60;
/** Facts that have a limit of their own. */
const ownLimit: readonly string[] = ['Length', 'Heard', 'Camera'];

/** What was found in a take, for its limits. @param read its facts as asked and found */
export function foundIn(
  take: FoundInput,
  summary: Summary,
  read: readonly Fact[],
  runs: readonly LossRun[],
): Quantities {
  const { recipe, facts } = take;
  if (!facts) return {};
  return {
    ...lossesFound(summary, runs, recipe),
    ...costFound(take),
    ...motionFound(take, summary),
    ...soundFound(take, summary),
    ...pictureFound(take, facts),
    length: lengthFound(take, facts, read),
    'as-asked': asAskedFound(take, read),
    ...(take.camera && { camera: cameraFound(take.camera) }),
    size: exactly(bytesPerHour((facts.bytes * 8) / Math.max(0.001, summary.due / framesPerSecond(recipe.rate)))),
    ...(take.brief && { opens: opensIn(take.brief, recipe) }),
  };
}

function lossesFound(summary: Summary, runs: readonly LossRun[], recipe: Take['recipe']): Quantities {
  const lost = summary.due - summary.filed;
  const sentence = lostSentence(summary, runs, recipe.rate);
  const share = summary.due ? lost / summary.due : 0;
  const words = lost === 0 ? 'none' : `${formatCount(lost)} of ${formatCount(summary.due)} (${formatPercent(share)})`;
  return {
    lost: exactly(share, words, sentence),
    hole: exactly(summary.longestHole, undefined, sentence),
  };
}

const percentOnly = (share: number): string => formatPercent(share).replace(' %', '');

function costFound({ playCost, kind, source }: FoundInput): Quantities {
  // A sample is made to be played in trials, and nobody plays while it is.
  if (kind === 'sample') return {};
  if (!playCost) {
    const why =
      kind === 'trial' && isGrabbed(source)
        ? 'not measured for what is recorded from the screen'
        : kind === 'trial'
          ? 'not measured'
          : 'measured in trials only';
    return { 'play-cost': { unknown: why } };
  }
  const { without, with: recorded, interval } = playCost;
  const value = playCostShare(recorded.meanFps, without.meanFps);
  const range = interval ? ` (${percentOnly(interval.low)} to ${formatPercent(interval.high)})` : '';
  const cost: Known = {
    value,
    low: Math.min(value, interval?.low ?? value),
    high: Math.max(value, interval?.high ?? value),
    words: `${formatPercent(value)}${range}`,
    sentence: `Recording took ${formatPercent(value)}${range} of the game: ${formatMeanFps(without.meanFps)} without, ${formatMeanFps(recorded.meanFps)} with it.`,
  };
  const [a, b] = [without.onePercentLowFps, recorded.onePercentLowFps];
  if (a === null || b === null) return { 'play-cost': cost };
  const low = playCostShare(b, a);
  return {
    'play-cost': cost,
    slowest: exactly(
      low,
      formatPercent(low),
      `The game’s 1\u00a0% low fell by ${formatPercent(low)}: ${formatMeanFps(a)} without recording, ${formatMeanFps(b)} with it.`,
    ),
  };
}

function motionFound({ recipe, sampleLeftOut }: FoundInput, summary: Summary): Quantities {
  const { slow = 0, phase = 0, stalled = 0 } = summary.causes;
  const { stepUnevenMs } = summary.pacing;
  // What a sample did not show tells nothing of the game.
  if (sampleLeftOut > 0)
    return { repeats: { unknown: `not told, as ${plural(sampleLeftOut, 'picture')} of the sample were left out` } };
  const of = `In ${formatCount(slow + phase)} of ${formatCount(summary.due)} frames nothing new was there to file`;
  const why = slow >= phase ? 'the game was too slow for the file' : 'game and file beat against each other';
  const due = Math.max(1, summary.due);
  const judder = stepUnevenMs === null ? null : (stepUnevenMs * 1000) / periodUs(recipe.rate);
  return {
    repeats: exactly((slow + phase) / due, undefined, `${of}: ${why}.`),
    still: exactly(
      stalled / due,
      undefined,
      `The picture stood still in ${formatCount(stalled)} of ${formatCount(summary.due)} frames, ${formatSeconds(summary.pacing.longestStillMs / 1000)} at the longest.`,
    ),
    ...(judder !== null && {
      judder: exactly(
        judder,
        undefined,
        `Motion judders: from picture to picture the game’s time differs by ${formatMs(stepUnevenMs ?? 0)} from the file’s, of ${formatMs(periodUs(recipe.rate) / 1000)}.`,
      ),
    }),
  };
}

function lengthFound({ end, endText, lengthS, cuts }: FoundInput, facts: Facts, read: readonly Fact[]): Known {
  const foundS = (facts.picture.endUs ?? 0) / 1e6;
  const asleepS = cuts.filter(({ why }) => why === 'asleep').reduce((sum, cut) => sum + cut.leftOutUs, 0) / 1e6;
  const asleep = asleepS > 0 ? `Nothing ran for ${formatDuration(asleepS)} within it: the PC slept.` : '';
  const byItself = end !== null && end !== 'length' && end !== 'stopped' && end !== 'source-gone';
  if (lengthS !== null && end !== 'stopped' && end !== 'length') {
    const missing = Math.max(0, lengthS - foundS) + asleepS;
    const sentence = `It ended after ${formatSeconds(foundS)} of ${formatSeconds(lengthS)}.${endText ? ` ${endText}` : ''}`;
    return exactly(missing, `${formatSeconds(foundS)} of ${formatSeconds(lengthS)}`, sentence);
  }
  if (lengthS === null && byItself) {
    const sentence = `It ended by itself after ${formatDuration(foundS)}.${endText ? ` ${endText}` : ''}`;
    // How much is missing nobody knows, as no length was asked.
    return { value: 1, low: 1, high: Infinity, words: `ended by itself after ${formatDuration(foundS)}`, sentence };
  }
  const fact = read.find(({ name, holds }) => name === 'Length' && holds === false);
  if (fact && lengthS !== null)
    return exactly(Math.max(1, Math.abs(lengthS - foundS)), fact.found, wrongSentence([fact]));
  return asleepS > 0
    ? exactly(asleepS, `${formatDuration(asleepS)} left out`, asleep)
    : exactly(0, formatSeconds(foundS));
}

/** "Video is not as asked: AVC was asked, HEVC was found." */
export function wrongSentence(wrong: readonly Fact[]): string {
  const [first, ...others] = wrong;
  if (!first) return '';
  const more = others.length
    ? ` ${listWords(others.map((fact) => fact.name))} ${others.length === 1 ? 'is' : 'are'} not as asked either.`
    : '';
  return `${first.name} is not as asked: ${first.asked} was asked, ${first.found} was found.${more}`;
}

/** Facts that are not as asked, but for those that losses explain or that have a limit of their own; and a source that was another. */
function asAskedFound({ source, recipe, sampleLeftOut }: FoundInput, read: readonly Fact[]): Known {
  const wrong = read.filter(
    ({ name, holds }) => holds === false && !lossFacts.includes(name) && !ownLimit.includes(name),
  );
  const other = [
    ...(sampleLeftOut > 0
      ? [
          `${plural(sampleLeftOut, 'picture')} of the sample were left out: it does not show what other trials of it show.`,
        ]
      : []),
    ...(sourceChanged(source, recipe) ? [sourceSentence(source, recipe)] : []),
  ];
  const count = wrong.length + other.length;
  const words = [...wrong.map(({ name }) => name), ...(other.length ? ['Source'] : [])];
  return exactly(count, count ? listWords(words) : 'all', [...other, wrongSentence(wrong)].join(' ').trim());
}

/** A window, display or region has another size than when it was chosen. */
export function sourceChanged(source: Take['source'], { source: chosen }: Take['recipe']): boolean {
  if (!isGrabbed(source) || !isGrabbed(chosen) || source.kind !== chosen.kind) return false;
  return source.widthPx !== chosen.widthPx || source.heightPx !== chosen.heightPx;
}

function sourceSentence(source: Take['source'], { source: chosen }: Take['recipe']): string {
  const size = (one: Take['source']): string => (isGrabbed(one) ? formatSize(one.widthPx, one.heightPx) : '');
  return `${capitalised(sourceWords(source))} was ${size(source)}, and ${size(chosen)} when it was chosen.`;
}

/** Lanes that should be heard and hold nothing: one whose device was away is told by that, one opened by a key may stay closed. */
export function silentLanes({ recipe, sounds }: Pick<Take, 'recipe' | 'sounds'>, summary: Summary): string[] {
  return summary.lanePeakDbfs.flatMap((peak, i) => {
    const lane = recipe.lanes[i];
    if (!lane || (peak !== null && peak > silentDbfs)) return [];
    const wanted = recipe.sounds.some(
      ({ id, muted, opening }) => lane.sources.includes(id) && !muted && opening === 'open',
    );
    const away = sounds.some(({ id, silenceS }) => lane.sources.includes(id) && silenceS > 0);
    return wanted && !away ? [lane.name] : [];
  });
}

const missing = ({ silenceS }: SoundReport): boolean => silenceS >= noticedSilenceS;

function soundFound(take: FoundInput, summary: Summary): Quantities {
  const { recipe, sounds } = take;
  if (!recipe.lanes.length) return {};
  const seconds = summary.due / framesPerSecond(recipe.rate);
  const silent = silentLanes(take, summary);
  const away = sounds.filter(missing);
  const words = [
    ...away.map(({ name, silenceS }) => `${name} was not heard for ${formatSeconds(silenceS)}.`),
    ...(silent.length
      ? [`${listWords(silent)} ${silent.length === 1 ? 'is' : 'are'} silent from beginning to end.`]
      : []),
  ].join(' ');
  const most = Math.max(0, silent.length ? seconds : 0, ...away.map(({ silenceS }) => silenceS));
  const peaks = summary.lanePeakDbfs.flatMap((peak, i) => {
    const name = recipe.lanes[i]?.name ?? `Lane ${i + 1}`;
    return peak === null ? [] : [{ name, peak }];
  });
  const loudest = peaks.reduce<(typeof peaks)[number] | null>((a, b) => (a && a.peak >= b.peak ? a : b), null);
  return {
    heard: exactly(most, most > 0 ? words.replace(/\.$/, '') : 'every lane', words),
    ...(loudest && {
      clipped: exactly(
        loudest.peak,
        `${loudest.name} ${formatDbfs(loudest.peak)}`,
        `${loudest.name} clips: its peak is ${formatDbfs(loudest.peak)}.`,
      ),
    }),
  };
}

function cameraFound(camera: NonNullable<Take['camera']>): Quantity {
  const { name, pictures, awayS } = camera;
  if (pictures > 0) return exactly(awayS, undefined, `${name} was away for ${formatSeconds(awayS)}.`);
  return {
    value: Infinity,
    low: Infinity,
    high: Infinity,
    words: 'nothing came',
    sentence: `${name} brought no picture.`,
  };
}

function pictureFound({ likeness, recipe, game, kind }: FoundInput, facts: Facts): Quantities {
  const { widthPx, heightPx } = filedSize(recipe);
  const asAsked = facts.picture.widthPx === widthPx && facts.picture.heightPx === heightPx;
  const text: Quantities = asAsked
    ? { 'small-text': exactly(textHeightPx(game, recipe.size, recipe.size.fit, game.facts.smallTextPx)) }
    : {};
  if (!likeness) return kind === 'sample' ? text : { ...text, picture: { unknown: 'not measured' } };
  if (likeness.exact) return { ...text, picture: exactly(1, 'exact'), 'worst-second': exactly(1, 'exact') };
  const { ssim, worstSecondSsim, worstSecond } = likeness;
  const [word, worstWord] = [qualityWord(ssim), qualityWord(worstSecondSsim)];
  const over = `The picture is ${word}: SSIM ${ssim.toFixed(3)}.`;
  const worst = `The picture is ${worstWord} in its worst second, at ${formatDuration(worstSecond)}: SSIM ${worstSecondSsim.toFixed(3)}.`;
  return {
    ...text,
    picture: exactly(ssim, ssim.toFixed(3), over),
    // One word for both is said once.
    'worst-second': exactly(worstSecondSsim, worstSecondSsim.toFixed(3), word === worstWord ? over : worst),
  };
}
