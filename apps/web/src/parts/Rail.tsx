import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { useState, type KeyboardEvent } from 'react';
import type { Station } from '@mellow/model';
import './Rail.css';

export interface RailChoice<T extends string> {
  value: T;
  label: string;
  /** Small second word, e.g. the method. */
  hint?: string;
  /** Why it cannot be chosen. */
  unreachable?: string;
}

export interface RailProps<T extends string> {
  label: string;
  hue: Station | 'sound' | 'accent';
  choices: readonly RailChoice<T>[];
  value: T | null;
  /** The starting value for this brief: the apricot notch. */
  start?: T | undefined;
  /** Why the setting has no effect now, and what would give it one. */
  quiet?: string | undefined;
  onChange: (value: T) => void;
  /** A value is looked at before it is chosen, by pointer or by arrow keys; null: none any more. */
  onConsider?: ((value: T | null) => void) | undefined;
}

const steps: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/**
 * Rail and bead: a choice among few, with the meaning of a group of radio buttons. Arrow keys move along it without choosing,
 * so that what a value would change can be read first; space or Enter chooses.
 */
export function Rail<T extends string>({
  label,
  hue,
  choices,
  value,
  start,
  quiet,
  onChange,
  onConsider,
}: RailProps<T>) {
  const [looked, setLooked] = useState<T | null>(null);
  const consider = (next: T | null) => {
    const shown = next === value ? null : next;
    setLooked(shown);
    onConsider?.(shown);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    const by = steps[event.key];
    if (!(event.target instanceof HTMLInputElement)) return;
    if (event.key === 'Enter') event.target.click();
    if (by === undefined) return;
    event.preventDefault();
    const stops = [...event.currentTarget.querySelectorAll<HTMLInputElement>('input:not(:disabled)')];
    stops[(stops.indexOf(event.target) + by + stops.length) % stops.length]?.focus();
  };
  return (
    <div className={`rail-box hue-${hue}`}>
      <RadioGroup
        row
        aria-label={quiet ? `${label}, no effect now: ${quiet}` : label}
        value={value ?? ''}
        onChange={(_, next) => {
          consider(null);
          onChange(next as T);
        }}
        onKeyDown={onKeyDown}
        onBlur={() => consider(null)}
        onMouseLeave={() => consider(null)}
        className={`rail${quiet ? ' quiet' : ''}`}
      >
        {choices.map((choice) => (
          <label
            key={choice.value}
            className={`rail-stop${choice.value === value ? ' on' : ''}${choice.value === looked && onConsider ? ' ghost' : ''}${choice.unreachable ? ' no' : ''}`}
            title={choice.unreachable}
            onMouseEnter={choice.unreachable ? undefined : () => consider(choice.value)}
          >
            <Radio
              value={choice.value}
              disabled={choice.unreachable !== undefined}
              className="rail-radio"
              slotProps={{
                input: {
                  onFocus: () => consider(choice.value),
                  'aria-label': choice.hint ? `${choice.label}, ${choice.hint}` : choice.label,
                },
              }}
            />
            <b>{choice.label}</b>
            {choice.hint && <span className="rail-hint">{choice.hint}</span>}
            {choice.value === start && <i className="rail-start" title="start for this brief" />}
          </label>
        ))}
      </RadioGroup>
      {quiet && <p className="rail-condition small soft">{quiet}</p>}
    </div>
  );
}
