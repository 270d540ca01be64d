import type { Arrow } from '@mellow/core';

const glyphs = {
  '-1': 'M6 11V1M2.500 7.500 6 11l3.500-3.500',
  0: 'M1.500 4.500h9M1.500 7.500h9',
  1: 'M6 1v10M2.500 4.500 6 1l3.500 3.500',
} as const;

/** What a considered value would change: picture, size, play cost, misses. */
export function Arrows({
  words,
  arrows,
  waiting,
}: {
  words: string;
  arrows: readonly Arrow[] | null;
  waiting: boolean;
}) {
  return (
    <p className={`arrows small${waiting ? ' waiting' : ''}`} role="status">
      <span className="soft">at {words}</span>
      {arrows ? (
        arrows.map((arrow) => (
          <span key={arrow.name} className="arrow">
            <svg
              width="12"
              height="12"
              viewBox="0 0 12 12"
              className={arrow.good === null ? 'soft' : arrow.good ? 'good' : 'bad'}
              aria-label={arrow.direction === 0 ? 'equal' : arrow.direction > 0 ? 'up' : 'down'}
              role="img"
            >
              <path
                d={glyphs[arrow.direction]}
                fill="none"
                stroke="currentColor"
                strokeWidth={arrow.good === false ? 2 : 1.5}
                strokeLinecap="round"
                strokeLinejoin="round"
              />
            </svg>
            {arrow.name} <span className="n">{arrow.text}</span>
          </span>
        ))
      ) : (
        <span className="soft">is simulated</span>
      )}
    </p>
  );
}
