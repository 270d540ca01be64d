import { useState, type KeyboardEvent } from 'react';
import { bindingWords } from '@mellow/core';
import type { Binding } from '@mellow/model';
import { Icon } from '../../parts/Icon';

const modifiers = ['Control', 'Alt', 'Shift', 'Meta', 'AltGraph', 'OS'];

interface KeyFieldProps {
  label: string;
  binding: Binding | null;
  /** Where it is another one: the key to begin with. */
  start: Binding | null;
  onChange: (binding: Binding | null) => void;
}

/** A key that is set by pressing it, cleared, and put back. */
export function KeyField({ label, binding, start, onChange }: KeyFieldProps) {
  const [pressing, setPressing] = useState(false);
  const words = binding ? bindingWords(binding) : 'none';
  const startWords = start && bindingWords(start);
  const onKeyDown = (event: KeyboardEvent) => {
    if (!pressing) return;
    event.preventDefault();
    event.stopPropagation();
    if (modifiers.includes(event.key)) return;
    setPressing(false);
    // Escape gives up; with a modifier it is a key like any other.
    const { ctrlKey, altKey, shiftKey, metaKey, code } = event;
    if (code === 'Escape' && !ctrlKey && !altKey && !shiftKey && !metaKey) return;
    if (code) onChange({ code, ctrl: ctrlKey, alt: altKey, shift: shiftKey, meta: metaKey });
  };
  return (
    <>
      <button
        type="button"
        className={`key-field${pressing ? ' pressing' : ''}`}
        aria-label={pressing ? `${label}: press a key, or Escape to leave it` : `${label}: ${words}. Press another`}
        onClick={() => setPressing(!pressing)}
        onKeyDown={onKeyDown}
        onBlur={() => setPressing(false)}
      >
        {pressing ? 'press it' : binding ? <kbd>{words}</kbd> : <span className="soft">none</span>}
      </button>
      <span className="key-acts">
        {binding && (
          <button type="button" className="link soft" aria-label={`${label}: no key`} onClick={() => onChange(null)}>
            <Icon name="cross" />
          </button>
        )}
        {startWords && startWords !== words && (
          <button type="button" className="link small" onClick={() => onChange(start)}>
            back to {startWords}
          </button>
        )}
      </span>
    </>
  );
}
