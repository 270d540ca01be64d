import { keyActions, type Binding, type Bindings, type KeyAction, type KeySettings } from '@mellow/model';
import { pageKeys } from '../advice';
import { bindingWords, keyActionWords, keyLabel, plainKey, sameBinding } from './keyNames';

/** A key that something else hears too. */
export interface KeyClash {
  action: KeyAction;
  /** Who else: another action of ours, our page, the game, the system, the browser. */
  with: 'action' | 'page' | 'game' | 'system' | 'browser';
  title: string;
  text: string;
  /** A key that clashes with nothing. */
  instead: Binding | null;
}

const ctrl = (code: string): Binding => ({ ...plainKey, ctrl: true, code });
const ctrlShift = (code: string): Binding => ({ ...ctrl(code), shift: true });
const alt = (code: string): Binding => ({ ...plainKey, alt: true, code });
const plain = (code: string): Binding => ({ ...plainKey, code });

/** Keys that desktops take for themselves before or beside any program (common practice on Windows, macOS and Linux). */
const systemKeys: readonly Binding[] = [
  alt('F4'),
  alt('Tab'),
  alt('Escape'),
  alt('Space'),
  ctrl('Escape'),
  ctrlShift('Escape'),
  { ...ctrl('Delete'), alt: true },
  { ...ctrl('Backspace'), alt: true },
  plain('PrintScreen'),
  alt('PrintScreen'),
  ...Array.from({ length: 12 }, (_, i) => ({ ...ctrl(`F${i + 1}`), alt: true })),
];

/** Keys by which browsers close, open or reload the page that rolls (common practice). */
const browserKeys: readonly Binding[] = [
  ...['F1', 'F3', 'F5', 'F6', 'F7', 'F11', 'F12'].map(plain),
  ...['KeyW', 'KeyT', 'KeyN', 'KeyR', 'KeyL', 'KeyF', 'KeyP', 'KeyS', 'KeyD', 'KeyQ', 'Tab', 'F4', 'F5'].map(ctrl),
  ...['KeyW', 'KeyT', 'KeyN', 'KeyR', 'KeyI', 'KeyJ', 'KeyC', 'KeyB', 'KeyP', 'Delete'].map(ctrlShift),
  alt('ArrowLeft'),
  alt('ArrowRight'),
];

/** Tried in this order where another key has to be found: seldom used by games, near the hand. */
const free: readonly Binding[] = [
  ...['Insert', 'PageDown', 'PageUp', 'End', 'Home', 'Pause', 'NumpadMultiply', 'NumpadSubtract'].map(plain),
  ...['KeyY', 'KeyU', 'KeyK', 'KeyH', 'Insert', 'Home'].map(ctrlShift),
  ...['Insert', 'PageDown', 'Home', 'End'].map(ctrl),
];

/** The keys that hold: those of the setup in place of the common ones. */
export function bindingsOf({ common, bySetup }: KeySettings, setupId: string | null): Bindings {
  const own = (setupId && bySetup[setupId]) || {};
  return Object.fromEntries(
    keyActions.map((action) => [action, own[action] === undefined ? common[action] : own[action]]),
  ) as Bindings;
}

const modifiersOf = ({ ctrl, alt, shift, meta }: Binding): string[] =>
  [ctrl && 'Control', alt && 'Alt', shift && 'Shift', meta && 'Meta'].filter((name) => name !== false);
/** A keyboard event's `key` and a binding's `code` for the same key, as far as both are known. */
const isKey = (key: string, { code }: Binding): boolean =>
  [keyLabel(code), code].some((name) => name.toLowerCase() === (key === ' ' ? 'space' : key).toLowerCase());

function othersHearing(
  binding: Binding,
  action: KeyAction,
  bindings: Bindings,
  gameKeys: readonly string[],
): { with: KeyClash['with']; who: string } | null {
  const bare = modifiersOf(binding).length === 0;
  const same = keyActions.find((other) => {
    const there = bindings[other];
    return other !== action && there && sameBinding(there, binding);
  });
  if (same) return { with: 'action', who: `it ${keyActionWords[same].does} too` };
  if (binding.meta || systemKeys.some((taken) => sameBinding(taken, binding)))
    return { with: 'system', who: 'the system takes it for itself' };
  // A game seldom looks at modifiers: Ctrl with its key is its key.
  const game = gameKeys.find((key) => isKey(key, binding) || modifiersOf(binding).includes(key));
  if (game) return { with: 'game', who: `the game uses ${game === ' ' ? 'Space' : game}` };
  if (bare && pageKeys.some((key) => isKey(key, binding)))
    return { with: 'page', who: 'this page has that key itself, and both would act when it is in front' };
  if (browserKeys.some((taken) => sameBinding(taken, binding)))
    return { with: 'browser', who: 'browsers use it on the page that is in front' };
  // A letter alone is typed in every chat.
  if (bare && /^(Key|Digit|Space)/.test(binding.code))
    return { with: 'game', who: 'it is typed in every chat and field' };
  return null;
}

/**
 * Keys of ours that something else hears too, each with one that nothing does.
 * @param gameKeys as keyboard events name them
 */
export function keyClashes(bindings: Bindings, gameKeys: readonly string[]): KeyClash[] {
  return keyActions.flatMap((action) => {
    const binding = bindings[action];
    const other = binding && othersHearing(binding, action, bindings, gameKeys);
    if (!binding || !other) return [];
    const words = bindingWords(binding);
    const instead = free.find((next) => !othersHearing(next, action, bindings, gameKeys)) ?? null;
    return [
      {
        action,
        with: other.with,
        title: `${words} ${keyActionWords[action].does} here, and ${other.who}.`,
        text: instead
          ? `One press would do both. ${bindingWords(instead)} is free; or free ${words} on the other side.`
          : `One press would do both. Free ${words} on the other side.`,
        instead,
      },
    ];
  });
}

/** Keys to begin with; nothing hears them until it is switched on. */
export const startBindings: Bindings = {
  roll: ctrlShift('KeyY'),
  pause: null,
  mark: plain('Insert'),
  keep: plain('ScrollLock'),
  talk: null,
  window: null,
};
