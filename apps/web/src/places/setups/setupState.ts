import { formatCount, recipeClashes, recipeDifferences, verdictInShort } from '@mellow/core';
import type { Setup, Take } from '@mellow/model';
import { markWords } from '../../parts/VerdictMark';

export interface SetupState {
  kind: 'new' | 'clash' | 'wants-trial' | 'look' | 'ready';
  word: string;
  text: string;
  next: { label: string; to: string };
}

/** How a setup stands and what its next step is. @param trials of this setup, newest first */
export function setupState(setup: Setup, trials: readonly Take[]): SetupState {
  const path = { label: 'Open path', to: `/setups/${setup.id}/path` };
  const clash = recipeClashes(setup.draft).find((c) => c.weight === 'stops');
  if (clash) return { kind: 'clash', word: 'Clash', text: `${clash.title}.`, next: path };
  const last = trials.find((t) => t.verdict) ?? null;
  if (!last)
    return {
      kind: 'new',
      word: 'New',
      text: 'Its recipe has not been tried.',
      next: { label: 'Make a trial', to: path.to },
    };
  const tried = trials.find((t) => t.verdict && JSON.stringify(t.recipe) === JSON.stringify(setup.draft)) ?? null;
  if (!tried) {
    const words = recipeDifferences(last.recipe, setup.draft);
    return {
      kind: 'wants-trial',
      word: 'Wants a trial',
      text: `${words.slice(0, 2).join(', ') || 'The draft'} since trial ${last.number}.`,
      next: { label: 'Make a trial', to: path.to },
    };
  }
  const lost = tried.summary ? tried.summary.due - tried.summary.filed : 0;
  const counts = tried.summary
    ? `Trial ${tried.number} kept ${lost ? `all but ${formatCount(lost)} of` : 'all'} ${formatCount(tried.summary.due)} frames.`
    : `Trial ${tried.number} could not be read.`;
  if (tried.verdict?.mark === 'keep')
    return {
      kind: 'ready',
      word: 'Tried and kept',
      text: counts,
      next: { label: `See trial ${tried.number}`, to: `/takes/${tried.id}` },
    };
  return {
    kind: 'look',
    word: tried.verdict ? markWords[tried.verdict.mark] : 'Look again',
    text:
      tried.verdict?.mark === 'rescued'
        ? `Trial ${tried.number} was cut off; ${tried.summary ? formatCount(tried.summary.filed) : 'no'} pictures were rescued.`
        : tried.verdict?.limits.length
          ? `Trial ${tried.number}: ${verdictInShort(tried.verdict)}.`
          : counts,
    next: { label: `See trial ${tried.number}`, to: `/takes/${tried.id}` },
  };
}
