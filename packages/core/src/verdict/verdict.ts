import { briefSchema, type FrameRate, type LossRun, type Take, type Verdict } from '@mellow/model';
import { judge, judgedOf, notKnownClause, troubles, troubleSentence, unclearSentence, type Judgement } from '../judge';
import { formatCount, formatSeconds, framesPerSecond, plural } from '../units';
import { takeFacts } from './facts';
import { takeFindings } from './findings';
import { foundIn, wrongSentence, type FoundInput } from './found';
import { lostSentence } from './lossShape';

type Input = FoundInput & Pick<Take, 'state' | 'tailFrames' | 'unpaced'>;
type Summary = NonNullable<Take['summary']>;

/** What a take is judged by that was made before its setup's brief was kept with it: the answers that everybody begins with. */
const usualBrief = briefSchema.parse({ purpose: 'long-play', sessionMinutes: 60 });

/** The verdict on a take: every limit judged, what matters most said first, with facts and findings. */
export function verdictOf(take: Input, runs: readonly LossRun[]): Verdict {
  const { summary, facts } = take;
  if (take.kind === 'clip' && facts) return clipVerdict(take);
  if (!summary || !facts) {
    return {
      mark: 'failed',
      sentence: take.endText ?? 'Nothing of this take could be read.',
      facts: [],
      findings: summary ? takeFindings(take, runs) : [],
      limits: [],
    };
  }
  const read = takeFacts(take);
  const asked = { brief: take.brief ?? usualBrief, recipe: take.recipe, game: take.game };
  const judged = judge(asked, foundIn(take, summary, read, runs));
  return {
    ...markOf(take, summary, judged, runs),
    facts: read,
    findings: takeFindings(take, runs),
    limits: judged.map(judgedOf),
  };
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
    limits: [],
  };
}

/** A take that was cut off says so first; else what is beyond a limit, then what may be, then that nothing is. */
function markOf(
  take: Input,
  summary: Summary,
  judged: readonly Judgement[],
  runs: readonly LossRun[],
): Pick<Verdict, 'mark' | 'sentence'> {
  const lost = summary.due - summary.filed;
  const trouble = troubleSentence(judged);
  if (take.state === 'rescued') return { mark: 'rescued', sentence: rescuedSentence(take, lost, judged) };
  if (trouble) return { mark: 'look', sentence: `Look again. ${trouble}` };
  const whole = `${wholeSentence(summary, runs, take.recipe.rate)}${notKnownClause(judged)}.`;
  const open = unclearSentence(judged);
  return open
    ? { mark: 'unclear', sentence: `Unclear. ${open} ${whole}` }
    : { mark: 'keep', sentence: `Keep it. ${whole}` };
}

/** Without its full stop, so that what was not measured is said in the same sentence. */
function wholeSentence(summary: Summary, runs: readonly LossRun[], rate: FrameRate): string {
  if (summary.due > summary.filed) return lostSentence(summary, runs, rate).replace(/\.$/, '');
  const repeats = summary.fates['repeat'] ?? 0;
  const pictures = `All ${formatCount(summary.due)} frames are in the file`;
  return repeats
    ? `${pictures}; in ${formatCount(repeats)} of them the game had drawn nothing new`
    : `${pictures}, each with a new picture`;
}

function rescuedSentence(take: Input, lost: number, judged: readonly Judgement[]): string {
  const kept = (take.facts?.picture.endUs ?? 0) / 1e6;
  const tail = (take.tailFrames * take.recipe.rate.den) / take.recipe.rate.num;
  const end = take.tailFrames ? `the last ${formatSeconds(tail)} are lost` : 'nothing before the end is lost';
  const before = lost ? `, and ${plural(lost, 'frame')} before that` : '';
  // That it was cut off, and what it lost, is said already.
  const others = troubles(judged).filter(({ limit }) => !['length', 'lost', 'hole'].includes(limit));
  const more = others.length ? ` ${troubleSentence(others)}` : '';
  return `Rescued: ${formatSeconds(kept)} can be played, ${end}${before}.${more}`;
}

/** A verdict in some words for a list: what was beyond or unclear first, else that every limit held. */
export function verdictInShort({ limits, findings, sentence }: Verdict): string {
  const open = limits.find(({ state, known }) => state !== 'held' && known);
  if (open) return `${open.name.toLowerCase()} ${open.found}`;
  if (!limits.length) return findings[0]?.title ?? sentence;
  return limits.every(({ known }) => known) ? 'every limit holds' : 'every limit that was measured holds';
}

/** A take whose verdict was drawn before there were limits, judged by them; its findings stay, as they knew every loss. */
export function renewed<T extends Input & Pick<Take, 'verdict'>>(take: T): T {
  const { verdict } = take;
  if (!verdict || verdict.limits.length || !take.summary || !take.facts || take.kind === 'clip') return take;
  return { ...take, verdict: { ...verdictOf(take, []), findings: verdict.findings } };
}
