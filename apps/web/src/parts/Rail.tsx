import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
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
}

/** Rail and bead: a choice among few, with the meaning of a group of radio buttons. */
export function Rail<T extends string>({ label, hue, choices, value, start, quiet, onChange }: RailProps<T>) {
  return (
    <div className={`rail-box hue-${hue}`}>
      <RadioGroup row aria-label={quiet ? `${label}, no effect now: ${quiet}` : label} value={value ?? ''} onChange={(_, next) => onChange(next as T)} className={`rail${quiet ? ' quiet' : ''}`}>
        {choices.map((choice) => (
          <label key={choice.value} className={`rail-stop${choice.value === value ? ' on' : ''}${choice.unreachable ? ' no' : ''}`} title={choice.unreachable}>
            <Radio value={choice.value} disabled={choice.unreachable !== undefined} className="rail-radio" slotProps={{ input: { 'aria-label': choice.hint ? `${choice.label}, ${choice.hint}` : choice.label } }} />
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
