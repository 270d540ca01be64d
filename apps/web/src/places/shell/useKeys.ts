import { useEffect } from 'react';

/** Keys by name ("t", "?", "mod+k"); none fires while typing, or with a dialog open (but "mod+k"). */
export function useKeys(actions: Readonly<Record<string, () => void>>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const mod = event.ctrlKey || event.metaKey;
      const name = `${mod ? 'mod+' : ''}${event.key.length === 1 ? event.key.toLowerCase() : event.key}`;
      const action = actions[name];
      if (!action || event.altKey || event.repeat) return;
      if (!mod && (isTyping(event.target) || document.querySelector('[role="dialog"]'))) return;
      event.preventDefault();
      action();
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  });
}

export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)) &&
    !(target instanceof HTMLInputElement && ['radio', 'range'].includes(target.type))
  );
}
