import { useState } from 'react';
import { useTakeLogQuery } from '../../store/api';

/** What the recorder said of this take, in plain words; an empty one is a good one. */
export function TakeLog({ takeId }: { takeId: string }) {
  const [open, setOpen] = useState(false);
  const log = useTakeLogQuery(takeId, { skip: !open });
  return (
    <section className="take-log">
      <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide the log' : 'The log of this take'}
      </button>
      {open &&
        (log.data?.length ? (
          <ul>
            {log.data.map((line, i) => (
              <li key={i} className={line.level === 'error' ? 'over' : ''}>
                <span className="n small">{new Date(line.at).toLocaleTimeString('en-GB')}</span> {line.text}
              </li>
            ))}
          </ul>
        ) : (
          <p className="soft">
            {log.isLoading
              ? 'Reading the log'
              : log.isError
                ? 'The log cannot be read now.'
                : 'Empty: the recorder had nothing to report.'}
          </p>
        ))}
    </section>
  );
}
