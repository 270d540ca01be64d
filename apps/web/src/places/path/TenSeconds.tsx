import { sceneShares, type StripPicture } from '@mellow/core';
import { FateMark, fateWords } from '../../parts/FateMark';
import { usePath } from './pathContext';

const barsHeight = 78;
/** The budget line stands at this share of the height; a bar of twice the budget fills it. */
const budgetShare = 0.62;
const kinds = ['repeat', 'capture-miss', 'encode-miss', 'write-miss'] as const;

/** The next ten seconds: one labelled draw of the simulation, calm, busy and loading; a bar a frame, a mark where none was new. */
export function TenSeconds() {
  const { outlook, outlookIsCurrent, setup, machine } = usePath();
  const shares = sceneShares(setup.game);
  return (
    <section className="strip" aria-label="The next ten seconds">
      <div className="strip-head">
        <h2>The next ten seconds</h2>
        <span className="soft clip">
          one simulated draw{machine?.origin === 'simulated' ? ` on ${machine.name}, a simulated machine` : ''}; the
          misses per minute weigh each passage by its share
        </span>
        <span className="strip-counts">
          {kinds.map((kind) => {
            const n = outlook?.strip.counts[kind] ?? null;
            return (
              <span key={kind}>
                <FateMark fate={kind} />
                <b className="n">{n ?? '?'}</b>{' '}
                <span className="soft">{n === 1 ? fateWords[kind].one : fateWords[kind].many}</span>
              </span>
            );
          })}
        </span>
      </div>
      {outlook ? (
        <Bars strip={outlook.strip} shares={shares} waiting={!outlookIsCurrent} />
      ) : (
        <div className="strip-empty soft">The path is simulated in a worker; it takes some milliseconds.</div>
      )}
    </section>
  );
}

function Bars({
  strip,
  shares,
  waiting,
}: {
  strip: StripPicture;
  shares: Record<StripPicture['passages'][number]['kind'], number>;
  waiting: boolean;
}) {
  const { dueFrames, periodMs, encodeMs } = strip;
  const seconds = (dueFrames * periodMs) / 1000;
  const tall = (ms: number): number => Math.min(barsHeight, (ms / periodMs) * budgetShare * barsHeight);
  // At high rates several frames share a column; the slowest of them is drawn.
  const columns = Math.min(dueFrames, 1200);
  const per = dueFrames / columns;
  const path = Array.from({ length: columns }, (_, i) => {
    let most = 0;
    for (let n = Math.floor(i * per); n < Math.floor((i + 1) * per); n++) most = Math.max(most, encodeMs[n] ?? 0);
    return most > 0 ? `M${i + 0.5} ${barsHeight}V${(barsHeight - tall(most)).toFixed(1)}` : '';
  }).join('');
  const from = strip.passages.map((_, i) => strip.passages.slice(0, i).reduce((sum, p) => sum + p.seconds, 0));
  const place = (due: number): string => `${(due / dueFrames) * 100}%`;
  return (
    <div className={`strip-body${waiting ? ' waiting' : ''}`}>
      <svg
        className="strip-bars"
        viewBox={`0 0 ${columns} ${barsHeight}`}
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <path d={path} stroke="var(--encode)" strokeWidth={columns > 900 ? 0.8 : 0.6} opacity="0.75" />
        {strip.marks
          .filter((m) => m.fate !== 'repeat' || m.frames > 1)
          .map((m) => (
            <rect
              key={m.due}
              x={m.due / per}
              y={barsHeight - tall(m.waitMs)}
              width={Math.max(1, m.frames / per)}
              height={tall(m.waitMs)}
              fill={`var(--${m.fate === 'encode-miss' ? 'encode' : m.fate === 'write-miss' ? 'drive' : m.fate === 'capture-miss' ? 'capture' : 'game'})`}
              opacity="0.35"
            />
          ))}
      </svg>
      <span className="strip-budget small" style={{ bottom: barsHeight * budgetShare }}>
        <span>{periodMs.toFixed(1)} ms, one frame</span>
      </span>
      {strip.passages.map((p, i) => (
        <span
          key={i}
          className="strip-passage small"
          style={{ left: `${((from[i] ?? 0) / seconds) * 100}%`, width: `${(p.seconds / seconds) * 100}%` }}
        >
          <b>{p.kind}</b>{' '}
          <span className="soft">
            {p.seconds} s stand for {Math.round(shares[p.kind] * 100)} % of a minute
          </span>
        </span>
      ))}
      {groupMarks(strip).map((m) => (
        <span key={m.due} className="strip-mark" style={{ left: place(m.due + m.frames / 2) }}>
          <FateMark fate={m.fate} />
          {m.count > 1 && <b className="n small">{m.count}</b>}
        </span>
      ))}
      <div className="strip-axis n small soft" aria-hidden="true">
        {Array.from({ length: Math.round(seconds) + 1 }, (_, s) => (
          <span key={s} style={{ left: `${(s / seconds) * 100}%` }}>
            {s} s
          </span>
        ))}
      </div>
    </div>
  );
}

/** Marks that would lie over each other are counted together. */
function groupMarks(
  strip: StripPicture,
): { due: number; frames: number; fate: StripPicture['marks'][number]['fate']; count: number }[] {
  const near = strip.dueFrames / 25;
  const grouped: { due: number; frames: number; fate: StripPicture['marks'][number]['fate']; count: number }[] = [];
  for (const mark of strip.marks) {
    const last = grouped.findLast((g) => g.fate === mark.fate);
    if (last && mark.due - last.due < near) last.count += mark.frames;
    else grouped.push({ due: mark.due, frames: mark.frames, fate: mark.fate, count: mark.frames });
  }
  return grouped;
}
