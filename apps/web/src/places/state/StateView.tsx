import { formatCount, formatDuration, hindsightWords } from '@mellow/core';
import { lossFates, type LiveState } from '@mellow/model';
import type { StateOptions } from './stateOptions';

export interface StateWords {
  shape: 'rolling' | 'armed' | 'holding' | 'idle' | 'away';
  word: string;
  /** The clock, or what is held. */
  clock: string | null;
  /** What is filed and lost, to be read at a glance. */
  rest: string | null;
}

/** What the state window says: by shape and text, never by colour alone. */
export function stateWords(live: LiveState | null, connected: boolean): StateWords {
  if (!connected || !live) return { shape: 'away', word: 'No answer', clock: null, rest: null };
  const { recorder, take, watching } = live;
  if (take && recorder !== 'idle') {
    const lost = lossFates.reduce((sum, fate) => sum + (take.fates[fate] ?? 0), 0);
    const second = take.lastMinute.at(-2) ?? take.lastMinute.at(-1);
    const game = take.gameFps ? `, game ${take.gameFps.toFixed(0)}` : '';
    return {
      shape: recorder === 'rolling' ? 'rolling' : 'armed',
      word: { rolling: 'Rolling', armed: 'Armed', closing: 'Closing' }[recorder],
      clock: formatDuration(take.elapsedUs / 1e6),
      rest: `filed ${second ? second[0] + second[1] : 0} fps${game}; ${formatCount(lost)} lost`,
    };
  }
  if (watching?.state === 'on' && watching.held)
    return {
      shape: 'holding',
      word: 'Holding',
      clock: hindsightWords(Math.min(watching.held.heldS, watching.held.lengthS)),
      rest: null,
    };
  return { shape: 'idle', word: 'Idle', clock: null, rest: null };
}

/** The little there is to see while playing. */
export function StateView({
  live,
  connected,
  shows,
}: {
  live: LiveState | null;
  connected: boolean;
  shows: StateOptions['shows'];
}) {
  if (live?.windowHidden) return null;
  const { shape, word, clock, rest } = stateWords(live, connected);
  return (
    <div className={`state-view ${shape}`} role="status" aria-label={[word, clock, rest].filter(Boolean).join(', ')}>
      <svg className="state-shape" viewBox="0 0 24 24" aria-hidden="true">
        {shape === 'rolling' && <circle cx="12" cy="12" r="10" fill="var(--accent)" />}
        {shape !== 'rolling' && (
          <circle
            cx="12"
            cy="12"
            r="9"
            fill="none"
            stroke={shape === 'idle' ? 'var(--soft)' : 'var(--accent-ink)'}
            strokeWidth="3"
            strokeDasharray={shape === 'armed' ? '5 4' : undefined}
          />
        )}
        {shape === 'holding' && <path d="M12 3a9 9 0 0 0 0 18z" fill="var(--accent-ink)" />}
        {shape === 'away' && <path d="M6 6l12 12" stroke="var(--over)" strokeWidth="3" />}
      </svg>
      {shows !== 'only a shape' && (
        <div>
          <p className="state-line">
            <b>{word}</b> {clock && <span className="n">{clock}</span>}
          </p>
          {shows === 'everything' && rest && <p className="small">{rest}</p>}
        </div>
      )}
    </div>
  );
}
