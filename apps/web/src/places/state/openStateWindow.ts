import { stateWindowPlace, stateWindowSize, type StateOptions } from './stateOptions';

/** The browser's own small window above all others (W3C Document Picture-in-Picture), where it has it. */
interface AboveAll {
  requestWindow(size: { width: number; height: number }): Promise<Window>;
}
const aboveAll = (): AboveAll | null =>
  (globalThis as { documentPictureInPicture?: AboveAll }).documentPictureInPicture ?? null;

export interface OpenedWindow {
  window: Window;
  /** It stays above other windows; otherwise the system decides. */
  above: boolean;
}

/** Opens the state window: after a press only, as browsers want it. @returns null where the browser let none open */
export async function openStateWindow(options: StateOptions): Promise<OpenedWindow | null> {
  const size = stateWindowSize(options);
  const above = await aboveAll()
    ?.requestWindow(size)
    .catch(() => null);
  if (above) {
    dress(above.document);
    return { window: above, above: true };
  }
  const { left, top } = stateWindowPlace(options, {
    left: 0,
    top: 0,
    width: window.screen.availWidth,
    height: window.screen.availHeight,
  });
  const features = `popup,width=${size.width},height=${size.height},left=${left},top=${top}`;
  const opened = window.open('', 'mellow-state', features);
  if (!opened) return null;
  dress(opened.document);
  return { window: opened, above: false };
}

/** Gives a new window the page's styles. */
function dress(into: Document): void {
  into.head.replaceChildren();
  into.body.replaceChildren();
  into.title = 'State, Mellow Frame';
  const base = into.createElement('base');
  base.href = document.baseURI;
  into.head.append(base);
  for (const sheet of document.querySelectorAll('style, link[rel="stylesheet"]'))
    into.head.append(into.importNode(sheet, true));
  // Styles that were put in by script have no text of their own.
  for (const { ownerNode, cssRules } of [...document.styleSheets].filter(isReadable)) {
    if (!(ownerNode instanceof HTMLStyleElement) || ownerNode.textContent) continue;
    const style = into.createElement('style');
    style.textContent = [...cssRules].map((rule) => rule.cssText).join('\n');
    into.head.append(style);
  }
}

function isReadable(sheet: CSSStyleSheet): boolean {
  try {
    return sheet.cssRules.length >= 0;
  } catch {
    return false;
  }
}
