import type { GrabbedSource, ScreenLook } from '@mellow/model';
import { grabInputsFor } from './grabTable';
import { openFirstGrab } from './libraryGrab';
import { lookOf } from './lookOf';

/** Pictures that a way of grabbing is given to bring its first. */
const tries = 30;

/** A small picture of a source by the way in which it would be recorded. @throws in words where it cannot be had */
export function lookByLibrary(source: GrabbedSource, platform: NodeJS.Platform = process.platform): ScreenLook {
  const ways = grabInputsFor(platform, source, source.kind === 'window' ? source.windowId : null);
  if (typeof ways === 'string') throw new Error(ways);
  const grab = openFirstGrab(ways, source);
  try {
    for (let i = 0; i < tries; i++) {
      const picture = grab.next();
      if (picture) return lookOf(picture, source.widthPx, source.heightPx);
    }
    throw new Error('No picture came: it may have been closed or hidden just now.');
  } finally {
    grab.close();
  }
}
