import type { Station } from '@mellow/model';
import './Gauge.css';

export interface GaugeProps {
  hue: Station;
  /** Null: not known, an empty dotted bar. */
  load: { usual: number; busiest: number; budget: number } | null;
}

export type Ease = 'easy' | 'near' | 'over';

/** The whisker decides: easy under 80 % of the budget, near up to 100 %, over above. */
export function easeOf(busiest: number, budget: number): Ease {
  if (busiest > budget) return 'over';
  return busiest >= budget * 0.8 ? 'near' : 'easy';
}

const postShare = 82;

/** Usual load as a thick bar, busiest 1 % as a whisker, the budget as a post. */
export function Gauge({ hue, load }: GaugeProps) {
  if (!load) {
    return (
      <svg className="gauge" width="100%" height="14" aria-hidden="true">
        <rect
          x="0.5"
          y="2.5"
          width={`${postShare}%`}
          height="5"
          fill="none"
          stroke="var(--tick)"
          strokeDasharray="2 3"
        />
        <rect x={`${postShare}%`} y="0" width="1" height="14" fill="var(--ink)" />
      </svg>
    );
  }
  const share = (value: number) => Math.min(98, (value / load.budget) * postShare);
  const ease = easeOf(load.busiest, load.budget);
  const colour = `var(--${hue})`;
  return (
    <svg className="gauge" width="100%" height="14" aria-hidden="true">
      <rect x="0" y="2" width={`${postShare}%`} height="6" fill="var(--well)" />
      <rect x="0" y="4" width={`${share(load.busiest)}%`} height="2" fill={ease === 'over' ? 'var(--over)' : colour} />
      <rect x="0" y="2" width={`${share(load.usual)}%`} height="6" fill={colour} />
      <rect
        x={`${share(load.busiest)}%`}
        y="1"
        width="1.5"
        height="8"
        fill={ease === 'over' ? 'var(--over)' : colour}
      />
      {Array.from({ length: 9 }, (_, i) => (
        <rect key={i} x={`${(i * postShare) / 8}%`} y="10" width="1" height={i % 2 ? 2 : 3} fill="var(--faint)" />
      ))}
      <rect x={`${postShare}%`} y="0" width="1" height="14" fill="var(--ink)" />
    </svg>
  );
}

/** The word beside a gauge, with a mark that does not rely on colour. */
export function EaseWord({ ease }: { ease: Ease }) {
  if (ease === 'easy') return <span className="small soft">easy</span>;
  return (
    <span className={`ease-word small ${ease}`}>
      <svg width="12" height="9" viewBox="0 0 12 9" aria-hidden="true">
        <path d={ease === 'near' ? 'M0 4.5h6' : 'M0 4.5h12'} stroke="currentColor" strokeWidth="4" />
        <path d="M7.5 0v9" stroke="currentColor" strokeWidth="1" />
      </svg>
      {ease}
    </span>
  );
}
