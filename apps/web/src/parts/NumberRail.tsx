import Slider from '@mui/material/Slider';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
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
  /** A value under the pointer or dragged to, before it is chosen; null: none any more. */
  onConsider?: ((value: number | null) => void) | undefined;
  /** Instead of the typed field at the left. */
  bare?: boolean;
}

/** The rail begins and ends so far inside its box, half a bead. */
export const railInset = 13;
const railHeight = 24;

/** A number on a rail with a bead, and the same number typed. The bead tells its value only when it is let go. */
export function NumberRail({
  label,
  hue,
  value,
  min,
  max,
  step = 1,
  unit,
  start,
  marks,
  logarithmic,
  quiet,
  format = String,
  onChange,
  onConsider,
  bare,
}: NumberRailProps) {
  const [dragged, setDragged] = useState<number | null>(null);
  const [looked, setLooked] = useState<number | null>(null);
  const line = useRef<HTMLDivElement>(null);
  useEffect(() => setDragged(null), [value]);
  const place = (n: number) => (logarithmic ? Math.log(n) : n);
  const back = (n: number) => (logarithmic ? Math.min(max, Math.max(min, roundTo(Math.exp(n), step))) : n);
  const shown = dragged ?? value;
  const consider = (next: number | null) => {
    const seen = next === value ? null : next;
    if (seen === looked) return;
    setLooked(seen);
    onConsider?.(seen);
  };
  const under = (event: PointerEvent) => {
    const box = line.current?.getBoundingClientRect();
    if (!box || dragged !== null || event.buttons) return;
    const along = (event.clientX - box.left - railInset) / (box.width - 2 * railInset);
    consider(
      along < 0 || along > 1 || event.clientY > box.top + railHeight
        ? null
        : back(roundTo(place(min) + along * (place(max) - place(min)), logarithmic ? 1e-9 : step)),
    );
  };
  const share = (n: number) => (place(n) - place(min)) / (place(max) - place(min));
  return (
    <div className={`number-rail hue-${hue}${quiet ? ' quiet' : ''}`}>
      {!bare && (
        <NumberField label={label} value={shown} min={min} max={max} step={step} unit={unit} onChange={onChange} />
      )}
      <div
        className="number-rail-line"
        ref={line}
        onPointerMove={onConsider ? under : undefined}
        onPointerLeave={() => dragged === null && consider(null)}
      >
        <Slider
          aria-label={label}
          value={place(shown)}
          min={place(min)}
          max={place(max)}
          step={logarithmic ? (place(max) - place(min)) / 100 : step}
          marks={marks.map((n) => ({ value: place(n), label: format(n) }))}
          getAriaValueText={() => `${format(shown)}${unit ? ` ${unit}` : ''}`}
          onChange={(_, next) => {
            setDragged(back(next));
            consider(back(next));
          }}
          onChangeCommitted={(_, next) => {
            consider(null);
            onChange(back(next));
          }}
        />
        {looked !== null && dragged === null && (
          <i className="number-rail-ghost" style={{ left: railPlace(share(looked)) }} />
        )}
        {start !== undefined && start >= min && start <= max && (
          <i className="number-rail-start" style={{ left: railPlace(share(start)) }} title="start for this brief" />
        )}
        {quiet && <p className="small soft">{quiet}</p>}
      </div>
    </div>
  );
}
/** Where a share of the rail lies in its box. */
export function railPlace(share: number): string {
  return `calc(${railInset}px + (100% - ${2 * railInset}px) * ${share})`;
}

function roundTo(n: number, step: number): number {
  return Math.round(n / step) * step;
}
