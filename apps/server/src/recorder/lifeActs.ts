import { errorText } from '@mellow/core';
import { clearAround } from './clearAround';
import { cutOff, type CurrentTake } from './currentTake';
import { dueHeard } from './dueHeard';
import { liveAtStart } from './liveAtStart';
import { heardNow, storeChange, type RecorderShell } from './recorderShell';
import { rollTake } from './rollTake';
import type { LifeEffect } from './takeLife';

const neverBegan = 'The application ended before it could begin.';

/** Does what the machine of takeLife.ts answers to an event. */
export function act(shell: RecorderShell, effect: LifeEffect): void {
  const { recorder, after, context, current } = shell;
  switch (effect) {
    case 'prepare':
    case 'watch-orphan':
      return; // Begun by whoever asked, who waits for it.
    case 'roll':
      return rollTake(shell);
    case 'stop-recorder':
      return recorder.now()?.stop();
    case 'kill-recorder':
      return recorder.now()?.kill();
    case 'read-back':
      if (leaveForLater(shell)) return;
      return work(shell, 'reading-back', (now) => after.readBack(now.take, now.reading ?? undefined));
    case 'rescue':
      if (leaveForLater(shell)) return;
      return work(shell, 'rescuing', (now) => rescue(shell, now));
    case 'finish':
      return work(shell, 'reading-back', async ({ take }) => {
        await after.finish(take);
        if (take.kind === 'sample') await context.samples.playFrom(take.id);
        return true;
      });
    case 'cancel-work':
      return context.jobs.cancelAll();
    case 'store-failure':
      return; // Stored by the work that failed, before it told.
    case 'give-up':
      if (current) void storeChange(shell, current.take.id, { state: 'failed', end: 'stopped', endText: neverBegan });
      return;
    case 'end':
      return end(shell);
  }
}

async function rescue(shell: RecorderShell, now: CurrentTake): Promise<boolean> {
  const { take, how, text } = now;
  if (take.machine.origin === 'simulated') return shell.after.dropSimulated(take, text);
  const due = now.due ?? dueHeard(take, heardNow(shell));
  now.due = due;
  // A full drive needs the room that was kept back.
  await clearAround(shell.context, take);
  return shell.after.rescue(take, { how, text, dueHeard: due });
}

/** What is played goes on first: a full take that was cut off is looked after when nothing rolls. @returns whether it is left */
function leaveForLater(shell: RecorderShell): boolean {
  const now = shell.current;
  if (!now?.prepared || now.take.kind !== 'full' || shell.life.leaving || !cutOff(now)) return false;
  now.due = dueHeard(now.take, heardNow(shell));
  const endText = `${now.text ?? ''} What was recorded of it is looked after when nothing rolls.`.trim();
  void shell.unfinished.leave(now, endText).then(() => {
    if (shell.current === now) shell.hear({ type: 'work-failed' });
  });
  return true;
}

/** Work on the take that nobody else waits for; its end is always told. @param state what the page says of the take meanwhile */
function work(
  shell: RecorderShell,
  state: 'reading-back' | 'rescuing',
  task: (now: CurrentTake) => Promise<boolean>,
): void {
  const { live, log, takes } = shell.context;
  const now = shell.current;
  if (!now) return;
  // Shown at once, whatever the work has to wait for.
  live.setTake('closing', { ...(live.state().take ?? liveAtStart(now.take, state)), state });
  void (async () => {
    try {
      const readable = await task(now);
      if (shell.current === now) shell.hear({ type: 'work-done', readable });
    } catch (error) {
      if (shell.current !== now) return;
      log.add('error', `Trial ${now.take.number}: ${errorText(error)}`, takes.folder(now.take.id));
      if (shell.life.phase !== 'finishing') await shell.unfinished.failed(now, error);
      if (shell.current === now) shell.hear({ type: 'work-failed' });
    }
  })();
}

function end(shell: RecorderShell): void {
  const { context, recorder, unfinished, endListeners } = shell;
  const now = shell.current;
  if (now) void clearAround(context, now.take);
  shell.current = null;
  shell.heardAtMs = 0;
  context.live.setTake('idle', null);
  context.live.dataChanged();
  context.hindsight.resume();
  now?.ended();
  if (now?.prepared && !shell.life.leaving) {
    const ended = { takeId: now.take.id, byItself: cutOff(now), rolledUs: now.rolledUs };
    for (const tell of endListeners) unfinished.while(Promise.resolve(tell(ended)));
  }
  if (++shell.takesMade % context.takesPerRecorder === 0) recorder.renew();
  if (!shell.life.leaving) recorder.ready().catch(() => {});
}
