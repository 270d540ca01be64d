import { Link } from 'react-router';
import {
  compareTrials,
  formatBytes,
  formatCount,
  formatSeconds,
  playCostWords,
  recipeDifferences,
  recipeHeadline,
  verdictInShort,
} from '@mellow/core';
import type { Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { EmptyPlace } from '../../parts/Message';
import { Losses } from '../../parts/Losses';
import { Profile } from '../../parts/Profile';
import { SimulatedTag } from '../../parts/SimulatedTag';
import { VerdictMark } from '../../parts/VerdictMark';
import { QuietHeading } from '../../parts/QuietHeading';
import './Trials.css';

/** What differs between two trials: the recipe's settings, and the game where it was changed. */
function differences(before: Take, take: Take): string[] {
  const words = recipeDifferences(before.recipe, take.recipe);
  return JSON.stringify(before.game) === JSON.stringify(take.game) ? words : [...words, 'another state of the game'];
}

/** Trials of one setup, newest first, each with what differed from the one before and whether that shows. */
export function TrialRows({
  trials,
  most,
  onDelete,
}: {
  trials: Take[];
  most?: number;
  onDelete?: (take: Take) => void;
}) {
  if (!trials.length) {
    return (
      <EmptyPlace title="No trial yet.">Ten seconds, really recorded, tell size, misses and play cost.</EmptyPlace>
    );
  }
  return (
    <table className="trial-table">
      <thead>
        <tr>
          <th>trial</th>
          <th>recipe, what differed</th>
          <th>verdict</th>
          <th>busiest 1 %</th>
          <th>lost</th>
          <th className="right">play cost</th>
          <th className="right">size an hour</th>
          <th>against the one before</th>
          {onDelete && <QuietHeading name="actions" />}
        </tr>
      </thead>
      <tbody>
        {trials.slice(0, most).map((take) => {
          const before = trials.find((t) => t.number < take.number && t.verdict) ?? null;
          const seconds = take.summary ? (take.summary.due * take.recipe.rate.den) / take.recipe.rate.num : 0;
          // Figures of two machines are not compared: what differs may be the machine.
          const comparison =
            before && take.summary && before.summary && before.machine.name === take.machine.name
              ? compareTrials(before, take, trials)
              : null;
          const words = before ? differences(before, take) : null;
          return (
            <tr key={take.id}>
              <td className="n">
                <Link className="trial-link" to={`/takes/${take.id}`} aria-label={`Trial ${take.number}`}>
                  {take.number}
                </Link>
              </td>
              <td>
                <span className="trial-words">
                  {words === null ? recipeHeadline(take.recipe) : words.length ? words.join(', ') : 'unchanged'}
                </span>
                <span className="small soft">
                  {' '}
                  recipe {take.recipeVersion}, {formatSeconds(seconds || (take.lengthS ?? 0))}
                </span>{' '}
                <SimulatedTag machine={take.machine} />
              </td>
              <td>
                <VerdictMark take={take} />
                {take.verdict && <p className="small soft trial-why">{verdictInShort(take.verdict)}</p>}
              </td>
              <td>
                {take.summary ? (
                  <Profile loads={take.summary.loads} width={72} />
                ) : (
                  <span className="small soft">not known</span>
                )}
              </td>
              <td>
                <Losses summary={take.summary} />
                {take.summary && <span className="small soft"> of {formatCount(take.summary.due)}</span>}
              </td>
              <td className="right n">
                {take.playCost ? (
                  <span title={playCostWords(take.playCost).range}>{playCostWords(take.playCost).figure}</span>
                ) : (
                  <span className="soft small">not measured</span>
                )}
              </td>
              <td className="right n">
                {take.facts && seconds > 0 ? formatBytes((take.facts.bytes / seconds) * 3600) : '?'}
              </td>
              <td className={comparison?.verdict === 'differ' ? '' : 'soft'}>
                <span className="trial-against small">{comparison ? comparison.text : ''}</span>
              </td>
              {onDelete && (
                <td className="right">
                  <Button quiet label={`Delete trial ${take.number}`} onClick={() => onDelete(take)}>
                    Delete
                  </Button>
                </td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
