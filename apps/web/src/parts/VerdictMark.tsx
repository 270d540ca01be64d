import { endedStates, type Take } from '@mellow/model';
import './VerdictMark.css';

export const markWords = { keep: 'Keep', look: 'Look again', rescued: 'Rescued', failed: 'Failed' } as const;

/** The mark of a verdict by shape and word; a take that is being made says so. */
export function VerdictMark({ take }: { take: Take }) {
  const mark = take.verdict?.mark;
  if (!endedStates.includes(take.state) || !mark)
    return (
      <span className="verdict-mark">
        <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
          <circle cx="7" cy="7" r="6" fill="none" stroke="var(--tick)" strokeWidth="1.5" strokeDasharray="2.500 2" />
        </svg>
        being made
      </span>
    );
  return (
    <span className={`verdict-mark ${mark}`}>
      <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
        {mark === 'keep' && (
          <>
            <circle cx="7" cy="7" r="7" fill="var(--game)" />
            <path
              d="m4 7.2 2.200 2.200L10 5"
              fill="none"
              stroke="var(--card)"
              strokeWidth="1.600"
              strokeLinecap="round"
            />
          </>
        )}
        {mark === 'look' && (
          <>
            <circle cx="7" cy="7" r="6" fill="none" stroke="var(--ink)" strokeWidth="1.500" />
            <path d="M7 3.800v3.700M7 9.800v.2" stroke="var(--ink)" strokeWidth="1.600" strokeLinecap="round" />
          </>
        )}
        {mark === 'rescued' && (
          <>
            <circle cx="7" cy="7" r="6" fill="none" stroke="var(--game-ink)" strokeWidth="1.500" />
            <path
              d="m4 7.200 2.200 2.200L10 5"
              fill="none"
              stroke="var(--game-ink)"
              strokeWidth="1.600"
              strokeLinecap="round"
            />
          </>
        )}
        {mark === 'failed' && (
          <path d="M2.500 2.500l9 9M11.500 2.500l-9 9" stroke="var(--over)" strokeWidth="1.800" strokeLinecap="round" />
        )}
      </svg>
      {markWords[mark]}
    </span>
  );
}
