import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import { useState, type ReactNode } from 'react';
import './WordMenu.css';

interface WordProps {
  label: string;
  /** The word as it stands in the sentence. */
  word: string;
  /** Not known: the word stands out. */
  open?: boolean;
}

/** A word changed in place: dashed in its sentence, it opens a list of what it may be. */
export function WordMenu<T extends string>({
  label,
  word,
  open,
  choices,
  value,
  onChange,
}: WordProps & { choices: readonly { value: T; label: string }[]; value: T | null; onChange: (value: T) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className={`word${open ? ' open' : ''}`}
        aria-haspopup="menu"
        aria-label={`${label}: ${word}. Change it`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {word}
      </button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)} aria-label={label}>
        {choices.map((choice) => (
          <MenuItem
            key={choice.value}
            selected={choice.value === value}
            onClick={() => {
              setAnchor(null);
              onChange(choice.value);
            }}
          >
            {choice.label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** The same with an editor of its own, e.g. a typed number. */
export function WordEditor({
  label,
  word,
  open,
  children,
}: WordProps & { children: (close: () => void) => ReactNode }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <button
        type="button"
        className={`word${open ? ' open' : ''}`}
        aria-haspopup="dialog"
        aria-label={`${label}: ${word}. Change it`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {word}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={close}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className="word-editor" role="dialog" aria-label={label}>
          {children(close)}
        </div>
      </Popover>
    </>
  );
}
