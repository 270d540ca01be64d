import { causeStation, type Cause, type LossRun, type Station, type Take, type Verdict } from '@mellow/model';
import { formatCount, formatSeconds, listWords, plural } from '../units';
import { takeFacts } from './facts';
import { takeFindings } from './findings';

type Input = Pick<
  Take,
  'recipe' | 'facts' | 'summary' | 'lengthS' | 'end' | 'endText' | 'state' | 'game' | 'tailFrames' | 'playCost'
>;

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

/** The findings on a take, in plain words with figures, and what to change. */
export function verdictOf(take: Input, runs: readonly LossRun[]): Verdict {
  const { summary, facts } = take;
  if (!summary || !facts) {
    return {
      mark: 'failed',
      sentence: take.endText ?? 'Nothing of this take could be read.',
      facts: [],
      findings: summary ? takeFindings(take, runs) : [],
    };
  }
  const findings = takeFindings(take, runs);
  const lost = summary.due - summary.filed;
  const rescued = take.state === 'rescued';
  const keep = lost <= summary.due * keepShare && summary.longestHole <= 2;
  const mark = rescued ? 'rescued' : keep ? 'keep' : 'look';
  return { mark, sentence: sentence(take, mark, lost), facts: takeFacts(take), findings };
}

function sentence(take: Input, mark: Verdict['mark'], lost: number): string {
  const summary = take.summary;
  if (!summary) return '';
  const where = lossesByStation(summary.causes);
  const at = listWords(
    [...where].sort((a, b) => b[1] - a[1]).map(([station, n]) => `${formatCount(n)} at ${stationWords[station]}`),
  );
  const repeats = summary.fates['repeat'] ?? 0;
  if (mark === 'rescued') {
    const kept = (take.facts?.picture.endUs ?? 0) / 1e6;
    const tail = (take.tailFrames * take.recipe.rate.den) / take.recipe.rate.num;
    const end = take.tailFrames ? `the last ${formatSeconds(tail)} are lost` : 'nothing before the end is lost';
    return `Rescued: ${formatSeconds(kept)} can be played, ${end}${lost ? `, and ${plural(lost, 'frame')} before that` : ''}.`;
  }
  if (lost === 0) {
    const pictures = `All ${formatCount(summary.due)} frames are in the file`;
    return repeats
      ? `Keep it. ${pictures}; in ${formatCount(repeats)} of them the game had drawn nothing new.`
      : `Keep it. ${pictures}, each with a new picture.`;
  }
  const opening = mark === 'keep' ? 'Keep it.' : 'Look again.';
  return `${opening} Of ${formatCount(summary.due)} frames ${lost === 1 ? '1 was' : `${formatCount(lost)} were`} lost: ${at}.`;
}
