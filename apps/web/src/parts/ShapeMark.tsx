export type MarkShape = 'keep' | 'unclear' | 'look' | 'rescued' | 'failed' | 'waits' | 'new' | 'clash';

/** A mark told by its shape, of the height of a line: what it says in words stands beside it. */
export function ShapeMark({ shape }: { shape: MarkShape }) {
  const ring = { cx: 7, cy: 7, r: 6, fill: 'none', strokeWidth: 1.5 };
  const tick = { d: 'm4 7.2 2.2 2.2L10 5', fill: 'none', strokeWidth: 1.6, strokeLinecap: 'round' } as const;
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      {shape === 'keep' && (
        <>
          <circle cx="7" cy="7" r="7" fill="var(--game)" />
          <path {...tick} stroke="var(--card)" />
        </>
      )}
      {shape === 'unclear' && (
        <>
          <circle {...ring} stroke="var(--ink)" />
          <path d="M4 7h6" stroke="var(--ink)" strokeWidth="1.6" strokeLinecap="round" />
        </>
      )}
      {shape === 'look' && (
        <>
          <circle {...ring} stroke="var(--ink)" />
          <path d="M7 3.8v3.7M7 9.8v.2" stroke="var(--ink)" strokeWidth="1.6" strokeLinecap="round" />
        </>
      )}
      {shape === 'rescued' && (
        <>
          <circle {...ring} stroke="var(--game-ink)" />
          <path {...tick} stroke="var(--game-ink)" />
        </>
      )}
      {shape === 'failed' && (
        <path d="M2.5 2.5l9 9M11.5 2.5l-9 9" stroke="var(--over)" strokeWidth="1.8" strokeLinecap="round" />
      )}
      {shape === 'waits' && <circle {...ring} stroke="var(--ink)" strokeDasharray="2.5 2" />}
      {shape === 'new' && <circle {...ring} stroke="var(--soft)" />}
      {shape === 'clash' && <path d="M0 7h14M9 0v14" stroke="var(--over)" strokeWidth="3" />}
    </svg>
  );
}
