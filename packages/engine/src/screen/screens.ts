import { errorText } from '@mellow/core';
import type { Screens } from '@mellow/model';
import { openX11 } from './x11Connection';
import { askMac, askWindows } from './systemScreens';
import { x11Displays, x11Windows } from './x11Screens';

const none = (trouble: string): Screens => ({ trouble, displays: [], windows: [] });

/** How each system is asked for its displays and windows. */
const bySystem: Partial<Record<NodeJS.Platform, () => Promise<Screens>>> = {
  linux: async () => {
    const x = await openX11();
    try {
      return { trouble: null, displays: await x11Displays(x), windows: await x11Windows(x) };
    } finally {
      x.close();
    }
  },
  win32: askWindows,
  darwin: askMac,
};

/** Displays and windows of this PC; where they cannot be had, why. */
export async function listScreens(platform: NodeJS.Platform = process.platform): Promise<Screens> {
  const ask = bySystem[platform];
  if (!ask)
    return none('Grabbing a display or a window is not built for this system yet; the practice game can be recorded.');
  try {
    return await ask();
  } catch (error) {
    return none(errorText(error));
  }
}
