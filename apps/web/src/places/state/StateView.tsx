import { formatCount, formatDuration, hindsightWords } from '@mellow/core';
import { lossFates, type LiveState } from '@mellow/model';
import { RecorderShape, recorderShape, recorderWords, type RecorderShapeName } from '../../parts/RecorderShape';
import type { StateOptions } from './stateOptions';

export interface StateWords {
  shape: RecorderShapeName;
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
      shape: recorderShape(live),
      word: recorderWords(live),
      clock: formatDuration(take.elapsedUs / 1e6),
      rest:
        take.pausedS === null
          ? `filed ${second ? second[0] + second[1] : 0} fps${game}; ${formatCount(lost)} lost`
          : `for ${formatDuration(take.pausedS)}`,
    };
  }
  if (live.rollsSoon) return { shape: 'armed', word: 'Rolls in', clock: `${live.rollsSoon.leftS} s`, rest: null };
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
      <RecorderShape shape={shape} sizePx={24} />
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
