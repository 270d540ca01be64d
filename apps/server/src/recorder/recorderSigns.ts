import { errorText } from '@mellow/core';
import { endedStates, type EngineEvent, type LiveTake } from '@mellow/model';
import { storedClosing } from './takeReadBack';
import type { CurrentTake } from './currentTake';
import { recorderWord } from './liveAtStart';
import { folderNow, storeChange, type RecorderShell } from './recorderShell';
import { rollTake } from './rollTake';
import { onClosed } from './takeClosed';

/** What the recorder's process tells, and its silence. */
export function onEvent(shell: RecorderShell, event: EngineEvent): void {
  const { context, after, keeping, watchdog } = shell;
  watchdog.sign();
  if (event.type === 'log') context.log.add(event.level, event.text, folderNow(shell));
  keeping.hear(event);
  const now = shell.current;
  if (!now) return;
  if (event.type === 'live' && event.live.takeId === now.take.id) onLive(shell, now, event.live);
  else if (now.prepared?.simulated) return;
  else if (event.type === 'part')
    void after
      .adoptParts(event.takeId, [event.part])
      .catch((error: unknown) => context.log.add('error', errorText(error), folderNow(shell)));
  else if (event.type === 'closed' && event.closing.takeId === now.take.id)
    void onClosed(shell, now, event.closing, null);
  else if (event.type === 'refused' && event.takeId === now.take.id) {
    [now.how, now.text] = ['error', `The take could not begin or go on: ${event.text}`];
    shell.hear({ type: 'refused' });
  }
}

function onLive(shell: RecorderShell, now: CurrentTake, told: Omit<LiveTake, 'setupId' | 'number'>): void {
  shell.heardAtMs = performance.now();
  if (told.state === 'rolling') now.rolledUs = told.elapsedUs;
  if (told.state !== now.take.state && !endedStates.includes(now.take.state)) {
    now.take = { ...now.take, state: told.state };
    void storeChange(shell, now.take.id, { state: told.state });
  }
  // Whatever dies afterwards, where it was paused stands with the take.
  if (told.cuts.length > now.take.cuts.length) {
    now.take = { ...now.take, cuts: told.cuts };
    void storeChange(shell, now.take.id, { cuts: told.cuts });
  }
  const { setupId, number } = now.take;
  shell.context.live.setTake(recorderWord(told.state), { ...told, setupId, number });
  if (told.state === 'rolling') now.room(told);
  if (told.state === 'rolling' || told.state === 'closing') shell.hear({ type: 'sign', of: told.state });
}

/** A recorder is at work on the take, so its silence means something. */
const isAtWork = ({ life }: RecorderShell): boolean => ['armed', 'rolling', 'closing'].includes(life.phase);

export const isWatched = (shell: RecorderShell): boolean => shell.recorder.now() !== null && isAtWork(shell);

export function onSilent(shell: RecorderShell): void {
  const { context, current } = shell;
  const seconds = (context.hangMs / 1000).toFixed(0);
  context.log.add('error', `The recorder gave no sign for ${seconds} s and was ended.`, folderNow(shell));
  if (current) [current.how, current.text] = ['engine-hung', 'The recorder stopped answering and was ended.'];
  shell.hear({ type: 'recorder-silent' });
}

/** The recorder's process has ended. */
export function onGone(shell: RecorderShell, how: string): void {
  const { log, takes } = shell.context;
  shell.keeping.giveUp('The recorder that held it has ended.');
  const now = shell.current;
  // It died before it had begun with the take, perhaps before it was asked: a fresh one begins it.
  if (now && shell.life.phase === 'armed' && shell.heardAtMs === 0 && !now.begunAgain) {
    now.begunAgain = true;
    log.add('warn', `The recorder ended before the take began (${how}); a fresh one begins it.`, folderNow(shell));
    return rollTake(shell);
  }
  if (now && isAtWork(shell)) {
    // It wrote down that the file is closed, and died before it could say so.
    const closing = now.prepared?.simulated ? null : storedClosing(takes.folder(now.take.id));
    if (closing?.closedWell) return void onClosed(shell, now, closing, null);
    if (now.how !== 'engine-hung') [now.how, now.text] = ['engine-died', `The recorder died while rolling (${how}).`];
    now.diedRolling = shell.life.phase === 'rolling' && !shell.life.stopping;
    log.add('error', now.text ?? '', takes.folder(now.take.id));
  } else if (!shell.life.leaving) {
    log.add('warn', `The recorder's process ended while idle (${how}); it is started again when needed.`);
  }
  shell.hear({ type: 'recorder-gone' });
}
