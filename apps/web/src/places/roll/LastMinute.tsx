import { formatCount } from '@mellow/core';
import type { Fate, LiveTake } from '@mellow/model';
import { FateMark } from '../../parts/FateMark';

const rows: { fate: Exclude<Fate, 'pending' | 'missing' | 'new'>; name: string; at: 1 | 2 | 3 | 4; note?: string }[] = [
  { fate: 'repeat', name: 'Repeats', at: 1, note: 'no loss' },
  { fate: 'capture-miss', name: 'Capture misses', at: 2 },
  { fate: 'encode-miss', name: 'Encode misses', at: 3 },
  { fate: 'write-miss', name: 'Write misses', at: 4 },
];
const width = 480;
const x = (i: number, count: number) => width - (count - 1 - i) * (width / 59);

/** New pictures and losses by second; loss figures are always there, not only once there is trouble. */
export function LastMinute({ take, fps }: { take: LiveTake; fps: number }) {
  const seconds = take.lastMinute;
  const lowest = Math.min(fps - 4, ...seconds.slice(0, -1).map((s) => s[0]));
  const y = (value: number) => 8 + (1 - Math.max(0, Math.min(1, (value - lowest) / Math.max(1, fps - lowest)))) * 40;
  return (
    <div className="last-minute">
      <span>
        New pictures
        <br />
        <span className="small soft">per second</span>
      </span>
      <svg
        viewBox={`0 0 ${width} 56`}
        preserveAspectRatio="none"
        className="last-minute-strip tall"
        role="img"
        aria-label="New pictures in each of the last 60 seconds"
      >
        <path d={`M0 8.5h${width}`} stroke="var(--line)" />
        <path d={`M0 48.5h${width}`} stroke="var(--line)" />
        {seconds.slice(0, -1).map((second, i) => (
          <g key={i}>
            <path d={`M${x(i, seconds.length)} 8V${y(second[0])}`} stroke="var(--game)" />
            <circle cx={x(i, seconds.length)} cy={y(second[0])} r="2.5" fill="var(--game)" />
          </g>
        ))}
      </svg>
      <span className="n">{formatCount(take.fates['new'] ?? 0)}</span>
      {rows.map(({ fate, name, at, note }) => (
        <div key={fate} style={{ display: 'contents' }}>
          <span>
            {name} {note && <span className="small soft">{note}</span>}
          </span>
          <div className="last-minute-strip marks">
            <i className="last-minute-line" />
            {seconds.map(
              (second, i) =>
                second[at] > 0 && (
                  <span
                    key={i}
                    className="last-minute-mark"
                    style={{ left: `${(x(i, seconds.length) / width) * 100}%` }}
                  >
                    <FateMark fate={fate} size={8} />
                    {second[at] > 1 && !seconds[i + 1]?.[at] && !seconds[i + 2]?.[at] && (
                      <span className="n small">{second[at]}</span>
                    )}
                  </span>
                ),
            )}
          </div>
          <span className="n">{formatCount(take.fates[fate] ?? 0)}</span>
        </div>
      ))}
      <span />
      <div className="last-minute-axis small soft n">
        <span>−60 s</span>
        <span>−40 s</span>
        <span>−20 s</span>
        <span>now</span>
      </div>
      <span className="small soft">since the start</span>
    </div>
  );
}
