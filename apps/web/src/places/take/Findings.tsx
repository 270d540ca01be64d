import type { Finding, Take } from '@mellow/model';
import { FateMark } from '../../parts/FateMark';
import { Icon } from '../../parts/Icon';

function Mark({ finding }: { finding: Finding }) {
  if (finding.tone !== 'loss')
    return (
      <span className="finding-mark soft">
        <Icon name="eye" />
      </span>
    );
  if (finding.station === 'encode') return <FateMark fate="encode-miss" />;
  if (finding.station === 'drive' || finding.station === 'pack') return <FateMark fate="write-miss" />;
  return <FateMark fate="capture-miss" />;
}

/** What stands out, losses first, each with figures and what to change. */
export function Findings({ take, onJump }: { take: Take; onJump: (atUs: number) => void }) {
  const findings = take.verdict?.findings ?? [];
  return (
    <section className="findings" aria-label="Findings">
      <h2>Findings</h2>
      {findings.length === 0 && <p className="soft">{nothingWords(take)}</p>}
      {findings.map((finding) => (
        <article key={finding.id} className="finding">
          <span className="finding-mark">
            <Mark finding={finding} />
          </span>
          <div>
            <h3>{finding.title}</h3>
            <p className="soft">{finding.text}</p>
            {finding.change && <p className="finding-change">{finding.change}</p>}
            {finding.atUs !== null && take.facts && (
              <button type="button" className="link small" onClick={() => onJump(finding.atUs ?? 0)}>
                See {(finding.atUs / 1e6).toFixed(2)} s
              </button>
            )}
          </div>
        </article>
      ))}
    </section>
  );
}

function nothingWords({ facts, kind, endText }: Take): string {
  if (!facts) return endText ?? 'Nothing could be read.';
  if (kind === 'clip')
    return 'A clip has no ledger of its own. What was lost, and where, stands with the take it was kept from.';
  return 'Nothing stands out: no loss, no clipping, no other program in the way.';
}
