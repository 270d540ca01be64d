import type { WindowSource } from '@mellow/model';
import type { Control } from '../shared/control';
import { windowStates } from '../shared/windowStates';
import { openX11, type X11Connection } from './x11Connection';
import { x11Process, x11Title, x11WindowPlace, x11Windows } from './x11Screens';

const lookEveryMs = 100;

export interface WindowWatch {
  stop(): void;
}

/** Follows a window that is recorded, where the system tells of it. */
export async function followWindow(
  source: WindowSource,
  control: Control,
  log: (level: 'info' | 'warn', text: string) => void,
): Promise<WindowWatch> {
  if (process.platform === 'linux') return watchWindow(source, control, log);
  // Elsewhere the grabber itself follows it; that it closed shows by pictures that fail.
  control.set('windowWidth', source.widthPx);
  control.set('windowHeight', source.heightPx);
  control.setFigure('windowId', source.windowId);
  control.set('windowState', windowStates.shown);
  return { stop: () => {} };
}

/**
 * Follows a window by its id, and by its title where it comes back: whether it is shown, how large it is, which id it has.
 * As long as this runs, the server keeps the window's picture whole while others cover it, where it can.
 */
async function watchWindow(
  source: WindowSource,
  control: Control,
  log: (level: 'info' | 'warn', text: string) => void,
): Promise<WindowWatch> {
  const x = await openX11();
  let windowId = source.windowId;
  let busy = false;
  let stopped = false;
  let seen: string = '';
  let processId = (await x11Process(x, windowId)) ?? 0;
  keepWhole(x, windowId);
  await look();
  const timer = setInterval(() => void look(), lookEveryMs);
  void x.ended.then(() => {
    clearInterval(timer);
    control.set('windowState', windowStates.closed);
    if (!stopped) control.requestStop('source-gone');
  });
  return {
    stop() {
      stopped = true;
      clearInterval(timer);
      x.close();
    },
  };

  async function look(): Promise<void> {
    if (busy) return;
    busy = true;
    try {
      const place = await x11WindowPlace(x, windowId);
      if (place) return shown(place.widthPx, place.heightPx);
      // A window that is only hidden still has its title.
      if (await x11Title(x, windowId))
        return told('hidden', 'The window is hidden: its picture cannot be had until it is shown again.');
      if (source.whenClosed === 'end') control.requestStop('source-gone');
      told(
        'closed',
        source.whenClosed === 'wait'
          ? 'The window was closed; the take waits for one of the same title.'
          : 'The window was closed.',
      );
      const again = source.whenClosed === 'wait' ? await sameTitle() : undefined;
      if (!again) return;
      windowId = again.windowId;
      processId = (await x11Process(x, windowId)) ?? 0;
      keepWhole(x, windowId);
      shown(again.widthPx, again.heightPx);
    } catch {
      // The connection has ended: its own event tells.
    } finally {
      busy = false;
    }
  }

  async function sameTitle() {
    return (await x11Windows(x)).find(({ title }) => title === source.title);
  }

  function shown(widthPx: number, heightPx: number): void {
    control.set('windowWidth', widthPx);
    control.set('windowHeight', heightPx);
    control.setFigure('windowId', windowId);
    control.set('windowProcess', processId);
    const other = widthPx !== source.widthPx || heightPx !== source.heightPx;
    told(
      'shown',
      other
        ? `The window is ${widthPx} × ${heightPx} now: it is scaled to the ${source.widthPx} × ${source.heightPx} that the take began with.`
        : null,
      `${widthPx}x${heightPx}`,
    );
  }

  function told(state: keyof typeof windowStates, text: string | null, detail = ''): void {
    control.set('windowState', windowStates[state]);
    const now = `${state} ${detail}`;
    if (now !== seen && text) log(state === 'shown' ? 'info' : 'warn', text);
    seen = now;
  }
}

function keepWhole({ composite }: X11Connection, windowId: number): void {
  if (composite) composite.RedirectWindow(windowId, composite.Redirect.Automatic);
}
