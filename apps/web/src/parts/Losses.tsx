import { formatCount } from '@mellow/core';
import { lossFates, type LedgerSummary } from '@mellow/model';
import { FateMark } from './FateMark';

/** Lost frames by the shape of their fate; nought is said plainly. */
export function Losses({ summary }: { summary: LedgerSummary | null }) {
  if (!summary) return <span className="soft small">not known</span>;
  const lost = lossFates.filter((fate) => (summary.fates[fate] ?? 0) > 0);
  if (!lost.length)
    return (
      <span className="losses">
        <svg width="10" height="10" aria-hidden="true">
          <circle cx="5" cy="5" r="4" fill="var(--soft)" />
        </svg>
        <span className="n">0</span>
      </span>
    );
  return (
    <span className="losses">
      {lost.map((fate) => (
        <span key={fate} className="losses">
          <FateMark fate={fate} />
          <span className="n">{formatCount(summary.fates[fate] ?? 0)}</span>
        </span>
      ))}
    </span>
  );
}
