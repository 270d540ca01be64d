import type { ScriptEvent } from '@mellow/model';

/** The scripted event of a kind that holds at due n, null if there is none. */
export function scriptedAt<K extends ScriptEvent['kind']>(
  script: readonly ScriptEvent[],
  kind: K,
  n: number,
): Extract<ScriptEvent, { kind: K }> | null {
  for (const event of script) {
    if (event.kind === kind && n >= event.fromDue && n < event.toDue) return event as Extract<ScriptEvent, { kind: K }>;
  }
  return null;
}
