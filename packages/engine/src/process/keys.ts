import { UiohookKey, uIOhook, type UiohookKeyboardEvent } from 'uiohook-napi';
import { errorText } from '@mellow/core';
import { engineCommandSchema, type EngineEvent } from '@mellow/model';
import { createChosenKeys } from '../keys/chosenKeys';
import { codesByNumber } from '../keys/keyCodes';

/**
 * A process that hears keys whichever program has the focus. It is begun only when somebody said yes, tells of chosen keys and
 * of no others, keeps nothing, and ends with whoever asked.
 */
const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => {});
};
const codes = codesByNumber(UiohookKey);
const keys = createChosenKeys();

process.on('message', (raw) => {
  const command = engineCommandSchema.safeParse(raw).data;
  if (command?.type === 'keys') keys.choose(command.chosen);
});
process.on('disconnect', () => process.exit(0));
process.on('SIGINT', () => {});

uIOhook.on('keydown', (event) => tell(keys.down(pressed(event)), true));
uIOhook.on('keyup', ({ keycode }) => tell(keys.up(codes.get(keycode) ?? ''), false));

function pressed({ keycode, ctrlKey, altKey, shiftKey, metaKey }: UiohookKeyboardEvent) {
  return { code: codes.get(keycode) ?? '', ctrl: ctrlKey, alt: altKey, shift: shiftKey, meta: metaKey };
}

function tell(action: ReturnType<typeof keys.down>, down: boolean): void {
  if (action) emit({ type: 'key', action, down });
}

try {
  if (process.platform === 'linux' && !process.env['DISPLAY'])
    throw new Error('There is no X11 display here, so no keys can be heard outside the page.');
  uIOhook.start();
  emit({ type: 'ready', pid: process.pid });
} catch (error) {
  emit({ type: 'job-failed', text: errorText(error) });
  process.exitCode = 1;
  process.disconnect();
}
