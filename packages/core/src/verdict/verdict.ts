import {
  causeStation,
  type Cause,
  type Fact,
  type LossRun,
  type Station,
  type Take,
  type Verdict,
} from '@mellow/model';
import { formatCount, formatSeconds, framesPerSecond, listWords, plural } from '../units';
import { lossFacts, takeFacts } from './facts';
import { takeFindings } from './findings';

type Input = Pick<
  Take,
  | 'kind'
  | 'recipe'
  | 'source'
  | 'facts'
  | 'summary'
  | 'lengthS'
  | 'end'
  | 'endText'
  | 'state'
  | 'game'
  | 'tailFrames'
  | 'playCost'
  | 'likeness'
  | 'unpaced'
  | 'sounds'
  | 'camera'
  | 'cuts'
  | 'sampleLeftOut'
>;
type Summary = NonNullable<Take['summary']>;

const stationWords: Record<Station, string> = {
  game: 'Game',
  capture: 'Capture',
  size: 'Size',
  encode: 'Encode',
  pack: 'Pack',
  drive: 'Drive',
};

/** Losses per station of a ledger's causes. */
export function lossesByStation(causes: Readonly<Record<string, number>>): Map<Station, number> {
  const losses = new Map<Station, number>();
  for (const [cause, count] of Object.entries(causes)) {
    const station = causeStation[cause as Cause];
    if (station && station !== 'game' && count > 0) losses.set(station, (losses.get(station) ?? 0) + count);
  }
  return losses;
}

/** Up to this share of lost frames, with no hole longer than two, a take is worth keeping. */
const keepShare = 0.0005;

/** Repeats that make motion uneven: of a game too slow for the file, or beating against it; not a game's own pauses. */
export const unevenRepeats = ({ causes }: Pick<Summary, 'causes'>): number =>
  (causes['slow'] ?? 0) + (causes['phase'] ?? 0);
/** From this share of the due frames on they decide the verdict. */
export const unevenShare = 0.1;

/** The findings on a take, in plain words with figures, and what to change. */
export function verdictOf(take: Input, runs: readonly LossRun[]): Verdict {
  const { summary, facts } = take;
  if (take.kind === 'clip' && facts) return clipVerdict(take);
  if (!summary || !facts) {
    return {
      mark: 'failed',
      sentence: take.endText ?? 'Nothing of this take could be read.',
      facts: [],
      findings: summary ? takeFindings(take, runs) : [],
    };
  }
  const findings = takeFindings(take, runs);
  const read = takeFacts(take);
  const wrong = read.filter((fact) => fact.holds === false && !lossFacts.includes(fact.name));
  return { ...judge(take, summary, wrong), facts: read, findings };
}

/** A clip has what its take had filed, and no ledger of its own: only its file is held against what was asked. */
function clipVerdict(take: Input): Verdict {
  const facts = takeFacts(take);
  const wrong = facts.filter(({ holds }) => holds === false);
  const lengthS = (take.facts?.picture.endUs ?? 0) / 1e6;
  const due = Math.round(lengthS * framesPerSecond(take.recipe.rate));
  const filed = take.facts?.picture.packets ?? 0;
  const frames = filed < due ? `${formatCount(filed)} of ${plural(due, 'frame')}` : `all ${plural(filed, 'frame')}`;
  const held = `${formatSeconds(lengthS)} of what was held, ${frames}`;
  return {
    mark: wrong.length ? 'look' : 'keep',
    sentence: wrong.length ? `Look again. ${wrongSentence(wrong)}` : `Kept: ${held}.`,
    facts,
    findings: [],
  };
}

/** What decides, in this order: the take was cut off; the file is not what was asked; frames are lost; the motion is uneven. */
function judge(take: Input, summary: Summary, wrong: readonly Fact[]): Pick<Verdict, 'mark' | 'sentence'> {
  const lost = summary.due - summary.filed;
  if (take.state === 'rescued') return { mark: 'rescued', sentence: rescuedSentence(take, lost) };
  if (wrong.length) return { mark: 'look', sentence: `Look again. ${wrongSentence(wrong)}` };
  const few = lost <= summary.due * keepShare && summary.longestHole <= 2;
  const uneven = unevenRepeats(summary) > summary.due * unevenShare;
  if (few && uneven) return { mark: 'look', sentence: `Look again. ${unevenSentence(summary)}` };
  if (lost === 0) return { mark: 'keep', sentence: `Keep it. ${wholeSentence(summary)}` };
  return {
    mark: few ? 'keep' : 'look',
    sentence: `${few ? 'Keep it.' : 'Look again.'} ${lostSentence(summary, lost)}`,
  };
}

function wrongSentence(wrong: readonly Fact[]): string {
  const [first, ...others] = wrong;
  if (!first) return '';
  const more = others.length
    ? ` ${listWords(others.map((fact) => fact.name))} ${others.length === 1 ? 'is' : 'are'} not as asked either.`
    : '';
  return `${first.name} is not as asked: ${first.asked} was asked, ${first.found} was found.${more}`;
}

function unevenSentence(summary: Summary): string {
  const { slow = 0, phase = 0 } = summary.causes;
  const of = `In ${formatCount(slow + phase)} of ${formatCount(summary.due)} frames nothing new was there to file`;
  return slow >= phase ? `${of}: the game was too slow for the file.` : `${of}: game and file beat against each other.`;
}

function wholeSentence(summary: Summary): string {
  const repeats = summary.fates['repeat'] ?? 0;
  const pictures = `All ${formatCount(summary.due)} frames are in the file`;
  return repeats
    ? `${pictures}; in ${formatCount(repeats)} of them the game had drawn nothing new.`
    : `${pictures}, each with a new picture.`;
}

function lostSentence(summary: Summary, lost: number): string {
  const where = [...lossesByStation(summary.causes)].sort((a, b) => b[1] - a[1]);
  const at = listWords(where.map(([station, n]) => `${formatCount(n)} at ${stationWords[station]}`));
  return `Of ${formatCount(summary.due)} frames ${lost === 1 ? '1 was' : `${formatCount(lost)} were`} lost: ${at}.`;
}

function rescuedSentence(take: Input, lost: number): string {
  const kept = (take.facts?.picture.endUs ?? 0) / 1e6;
  const tail = (take.tailFrames * take.recipe.rate.den) / take.recipe.rate.num;
  const end = take.tailFrames ? `the last ${formatSeconds(tail)} are lost` : 'nothing before the end is lost';
  return `Rescued: ${formatSeconds(kept)} can be played, ${end}${lost ? `, and ${plural(lost, 'frame')} before that` : ''}.`;
}
