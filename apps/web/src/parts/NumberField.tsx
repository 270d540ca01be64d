import { useEffect, useId, useState } from 'react';
import './Field.css';

export interface NumberFieldProps {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit?: string | undefined;
  onChange: (value: number) => void;
}

/** A typed number; a value that does not fit is told under the field and not taken. */
export function NumberField({ label, value, min, max, step = 1, unit, onChange }: NumberFieldProps) {
  return (
    <TypedField
      label={label}
      text={String(value)}
      unit={unit}
      numeric
      parse={(text) => {
        const number = Number(text.replace(/[\s\u2009]/g, '').replace(',', '.'));
        if (text.trim() === '' || !Number.isFinite(number)) return { problem: `"${text}" is no number.` };
        if (number < min || number > max) return { problem: `${text} is not between ${min} and ${max}.` };
        return { value: Math.round(number / step) * step };
      }}
      onChange={onChange}
    />
  );
}

export interface TypedFieldProps<T> {
  label: string;
  text: string;
  unit?: string | undefined;
  numeric?: boolean;
  wide?: boolean;
  parse: (text: string) => { value: T } | { problem: string };
  onChange: (value: T) => void;
}

/** A field that is taken on Enter or when left; Escape puts the old value back. */
export function TypedField<T>({ label, text, unit, numeric, wide, parse, onChange }: TypedFieldProps<T>) {
  const [typed, setTyped] = useState(text);
  const [problem, setProblem] = useState<string | null>(null);
  const id = useId();
  useEffect(() => {
    setTyped(text);
    setProblem(null);
  }, [text]);
  const take = () => {
    if (typed === text) return setProblem(null);
    const result = parse(typed);
    if ('problem' in result) setProblem(result.problem);
    else {
      setProblem(null);
      onChange(result.value);
    }
  };
  return (
    <span className={`field-box${wide ? ' wide' : ''}`}>
      <span className={`field${problem ? ' wrong' : ''}`}>
        <input
          aria-label={label}
          aria-invalid={problem !== null}
          aria-describedby={problem ? id : undefined}
          inputMode={numeric ? 'decimal' : 'text'}
          className={numeric ? 'n' : undefined}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={take}
          onKeyDown={(event) => {
            if (event.key === 'Enter') {
              // An editor that closes gives the focus back to its word, which the same key would open again.
              event.preventDefault();
              take();
            }
            if (event.key === 'Escape') {
              setTyped(text);
              setProblem(null);
            }
          }}
        />
        {unit && <span className="soft">{unit}</span>}
      </span>
      {problem && (
        <span className="field-problem small over" id={id} role="alert">
          {problem}{' '}
          <button
            type="button"
            className="link small"
            onClick={() => {
              setTyped(text);
              setProblem(null);
            }}
          >
            Put back {text}
          </button>
        </span>
      )}
    </span>
  );
}
