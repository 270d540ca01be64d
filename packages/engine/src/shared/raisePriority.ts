import { setPriority } from 'node:os';
import { ownThreadId, tell } from './threadPort';

/** Who picks or grabs needs little, but on time; where the system allows it, this thread goes before others. */
export function raisePriority(what: string): void {
  const id = ownThreadId();
  if (id === null) return;
  try {
    setPriority(id, -10);
  } catch {
    tell({ type: 'log', level: 'info', text: `The system does not allow the ${what} thread a higher priority.` });
  }
}
