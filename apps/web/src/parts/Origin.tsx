import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';
import { originText } from '@mellow/core';
import type { Figure } from '@mellow/model';
import './Origin.css';

/** A figure that tells where it comes from, and its range, when it is pointed at or focused. */
export function Origin({
  origin,
  from,
  range,
  children,
}: {
  origin: Figure['origin'];
  from: string;
  range?: string | undefined;
  children: ReactNode;
}) {
  const text = `${originText({ origin, from })}${range ? `. Range ${range}` : ''}`;
  return (
    <Tooltip title={text} describeChild>
      <span className={`origin ${origin}`} tabIndex={0}>
        {children}
      </span>
    </Tooltip>
  );
}
