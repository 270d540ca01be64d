import type { Binding, KeyAction } from '@mellow/model';

/** A key as the hook tells it. */
export interface PressedKey {
  code: string;
  ctrl: boolean;
  alt: boolean;
  shift: boolean;
  meta: boolean;
}

export interface ChosenKeys {
  choose(chosen: readonly { action: KeyAction; binding: Binding }[]): void;
  /** @returns what begins; null for every other key, and for one that repeats while it is held */
  down(key: PressedKey): KeyAction | null;
  /** @returns what ends: a key ends what it began, whatever modifiers are still down */
  up(code: string): KeyAction | null;
}

/** Tells chosen keys from all others, of which nothing is kept. */
export function createChosenKeys(): ChosenKeys {
  let wanted: readonly { action: KeyAction; binding: Binding }[] = [];
  const held = new Map<string, KeyAction>();
  return {
    choose: (chosen) => void (wanted = chosen),
    down(key) {
      const hit = wanted.find(
        ({ binding }) =>
          binding.code === key.code &&
          binding.ctrl === key.ctrl &&
          binding.alt === key.alt &&
          binding.shift === key.shift &&
          binding.meta === key.meta,
      );
      if (!hit || held.has(key.code)) return null;
      held.set(key.code, hit.action);
      return hit.action;
    },
    up(code) {
      const action = held.get(code) ?? null;
      held.delete(code);
      return action;
    },
  };
}
