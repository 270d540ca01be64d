import type { Binding, KeyAction } from '@mellow/model';

/** Labels of keys that are not their letter or number; the rest is read from the code. */
const labels: Readonly<Record<string, string>> = {
  Backquote: '`',
  Minus: '-',
  Equal: '=',
  BracketLeft: '[',
  BracketRight: ']',
  Backslash: '\\',
  Semicolon: ';',
  Quote: "'",
  Comma: ',',
  Period: '.',
  Slash: '/',
  ArrowLeft: 'Left',
  ArrowRight: 'Right',
  ArrowUp: 'Up',
  ArrowDown: 'Down',
  PageUp: 'Page Up',
  PageDown: 'Page Down',
  ScrollLock: 'Scroll Lock',
  NumLock: 'Num Lock',
  CapsLock: 'Caps Lock',
  PrintScreen: 'Print Screen',
};

/** "M", "7", "F9", "Num 3", "Page Down": by the place of the key on a keyboard of English letters. */
export function keyLabel(code: string): string {
  const plain = /^(?:Key|Digit)([A-Z0-9])$/.exec(code)?.[1];
  const pad = /^Numpad(.+)$/.exec(code)?.[1];
  return plain ?? labels[code] ?? (pad ? `Num ${pad}` : code);
}

/** "Ctrl Shift Y". */
export const bindingWords = ({ ctrl, alt, shift, meta, code }: Binding): string =>
  [ctrl && 'Ctrl', alt && 'Alt', shift && 'Shift', meta && 'Meta', keyLabel(code)].filter(Boolean).join(' ');

export const sameBinding = (a: Binding, b: Binding): boolean => bindingWords(a) === bindingWords(b);

/** What each key does, as it stands beside it, and what it does to a game that hears it too. */
export const keyActionWords: Readonly<Record<KeyAction, { name: string; does: string }>> = {
  roll: { name: 'Roll, and held: stop', does: 'rolls and stops' },
  pause: { name: 'Pause, and go on', does: 'pauses and goes on' },
  mark: { name: 'Mark this moment', does: 'marks' },
  keep: { name: 'Keep the last minutes', does: 'keeps the last minutes' },
  talk: { name: 'Talk, while it is held', does: 'opens the microphone' },
  window: { name: 'State window: show or hide', does: 'shows the state window' },
};

export const plainKey = { ctrl: false, alt: false, shift: false, meta: false } as const;
