import { errorText } from '@mellow/core';
import type { ReadBackResult, TakeClosing } from '@mellow/model';
import type { CurrentTake } from './currentTake';
import { endOf, type RecorderShell } from './recorderShell';

/** The container is closed: that is stored before anything else is done with it. */
export async function onClosed(
  shell: RecorderShell,
  now: CurrentTake,
  closing: TakeClosing,
  reading: ReadBackResult | null,
): Promise<void> {
  const { after, context } = shell;
  if (shell.current !== now) return;
  [now.how, now.text, now.reading, now.closing] = [closing.end, closing.endText, reading, closing];
  if (closing.closedWell) {
    try {
      now.take = await after.storeClosed(now.take, closing);
    } catch (error) {
      const text = `That the take is closed could not be stored: ${errorText(error)}`;
      context.log.add('error', text, context.takes.folder(now.take.id));
      now.take = { ...now.take, ...endOf(closing) };
    }
  }
  if (shell.current === now) shell.hear({ type: 'container-closed', well: closing.closedWell });
}
