import { setPriority } from 'node:os';
import { errorText } from '@mellow/core';
import type { Priority } from '@mellow/model';
import { ownThreadId, tell } from './threadPort';

/** Nice values: smaller goes first. Capture and Drive stand at -10, a game at 0. */
const niceOf = { above: -5, usual: 0, below: 10 } as const satisfies Record<Priority, number>;

/**
 * Puts the calling thread, and those it starts afterwards, before or after a game. Where threads have no priority of their own the
 * whole recorder gets it; what a system does not allow is told.
 * @returns takes it back
 */
export function applyEncoderPriority(priority: Priority): () => void {
  const nothing = (): void => {};
  if (priority === 'usual') return nothing;
  const thread = ownThreadId();
  if (thread === null && process.platform !== 'win32') return refused('threads have none of their own here');
  const whose = thread ?? process.pid;
  try {
    setPriority(whose, niceOf[priority]);
  } catch (error) {
    return refused(errorText(error));
  }
  // A thread ends with its take; a process goes on.
  return thread === null ? () => setPriority(process.pid, niceOf.usual) : nothing;

  function refused(why: string): () => void {
    tell({
      type: 'log',
      level: 'warn',
      text: `The system does not give the encoder the priority that was asked for (${why}); it runs as the game does.`,
    });
    return nothing;
  }
}
