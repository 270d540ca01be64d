import type { Camera } from '@mellow/model';

/** A small drawn camera with a file of its own. */
export const standInCamera: Camera = {
  from: { kind: 'stand-in' },
  widthPx: 160,
  heightPx: 120,
  fps: 15,
  where: 'own-file',
  leftShare: 0.7,
  topShare: 0.7,
  widthShare: 0.25,
  opacity: 1,
};
