import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';
import type { Figure } from '@mellow/model';
import './Origin.css';

const words: Record<Figure['origin'], string> = { measured: 'measured', fitted: 'fitted', typical: 'typical', assumed: 'assumed' };

/** A figure that tells where it comes from, and its range, when it is pointed at or focused. */
export function Origin({ origin, from, range, children }: { origin: Figure['origin']; from: string; range?: string | undefined; children: ReactNode }) {
  const text = `${words[origin]}: ${from}${range ? `. Range ${range}` : ''}`;
  return (
    <Tooltip title={text} describeChild>
      <span className={`origin ${origin}`} tabIndex={0}>{children}</span>
    </Tooltip>
  );
}
