import type { Take } from '@mellow/model';
import { storedClosing } from './takeReadBack';
import { currentTake, type CurrentTake } from './currentTake';
import { watchOrphan } from './leftTakes';
import { liveAtStart } from './liveAtStart';
import { closesAlone } from './orphanSigns';
import { endOf, type RecorderShell } from './recorderShell';
import { refusalProblem } from './refusals';
import { stepLife } from './takeLife';
import { onClosed } from './takeClosed';

const bothGone = 'The application and the recorder ended while the take was rolling.';

/**
 * Brings one take that was left open to its end.
 * @param before what was known of it, where it was left by this very program
 * @param claimed told when no other take can get in front any more
 * @throws a problem where a take is made or a job runs; nothing was touched then
 */
export async function recoverTake(
  shell: RecorderShell,
  take: Take,
  before: CurrentTake | null = null,
  claimed: () => void = () => {},
): Promise<void> {
  const { takes, log, live, jobs, hangMs } = shell.context;
  const folder = takes.folder(take.id);
  const closing = before?.closing ?? storedClosing(folder);
  const living = closing ? false : await closesAlone(take, folder, hangMs, log);
  const whole = closing?.closedWell === true && take.machine.origin !== 'simulated';
  const left = whole ? 'closed' : living ? 'living' : 'open';
  const how = closing?.end ?? take.end ?? 'server-gone';
  const text = closing ? closing.endText : (before?.text ?? bothGone);
  const now: CurrentTake = {
    ...currentTake(live, { take, prepared: null, how, text }),
    closing,
    due: before?.due ?? null,
  };
  // What the take ended with has to stand with it before anybody tells of it.
  if (closing && left === 'closed')
    now.take = await shell.after.storeClosed(take, closing).catch(() => ({ ...take, ...endOf(closing) }));
  // Whoever is turned down here has taken nothing from the take that rolls.
  const { refusal } = stepLife(shell.life, { type: 'orphan-found', takeId: take.id, left });
  if (refusal) throw refusalProblem(refusal, shell.current?.take ?? null, jobs.list());
  shell.current = now;
  live.setTake('closing', liveAtStart(take, 'rescuing'));
  shell.hear({ type: 'orphan-found', takeId: take.id, left });
  claimed();
  if (left === 'living')
    await watchOrphan({
      ...{ take, folder, log, hangMs },
      watching: () => shell.life.phase === 'watching',
      closed: (told) => onClosed(shell, now, told, null),
      gone: () => shell.hear({ type: 'recorder-gone' }),
    });
  await now.whenEnded;
}
