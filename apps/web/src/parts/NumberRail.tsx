import Slider from '@mui/material/Slider';
import { useEffect, useState } from 'react';
import type { Station } from '@mellow/model';
import { NumberField } from './NumberField';
import './NumberRail.css';

export interface NumberRailProps {
  label: string;
  hue: Station | 'sound';
  value: number;
  min: number;
  max: number;
  step?: number;
  unit?: string;
  start?: number | undefined;
  marks: readonly number[];
  /** Rates span decades: equal steps on the rail are equal factors. */
  logarithmic?: boolean;
  quiet?: string | undefined;
  format?: (value: number) => string;
  onChange: (value: number) => void;
}

/** A number on a rail with a bead, and the same number typed. The bead tells its value only when it is let go. */
export function NumberRail({ label, hue, value, min, max, step = 1, unit, start, marks, logarithmic, quiet, format = String, onChange }: NumberRailProps) {
  const [dragged, setDragged] = useState<number | null>(null);
  useEffect(() => setDragged(null), [value]);
  const place = (n: number) => (logarithmic ? Math.log(n) : n);
  const back = (n: number) => (logarithmic ? Math.min(max, Math.max(min, roundTo(Math.exp(n), step))) : n);
  const shown = dragged ?? value;
  const share = (n: number) => `${((place(n) - place(min)) / (place(max) - place(min))) * 100}%`;
  return (
    <div className={`number-rail hue-${hue}${quiet ? ' quiet' : ''}`}>
      <NumberField label={label} value={shown} min={min} max={max} step={step} unit={unit} onChange={onChange} />
      <div className="number-rail-line">
        <Slider
          aria-label={label}
          value={place(shown)}
          min={place(min)}
          max={place(max)}
          step={logarithmic ? (place(max) - place(min)) / 100 : step}
          marks={marks.map((n) => ({ value: place(n), label: format(n) }))}
          getAriaValueText={() => `${format(shown)}${unit ? ` ${unit}` : ''}`}
          onChange={(_, next) => setDragged(back(next))}
          onChangeCommitted={(_, next) => onChange(back(next))}
        />
        {start !== undefined && start >= min && start <= max && <i className="number-rail-start" style={{ left: share(start) }} title="start for this brief" />}
        {quiet && <p className="small soft">{quiet}</p>}
      </div>
    </div>
  );
}

const roundTo = (n: number, step: number): number => Math.round(n / step) * step;
