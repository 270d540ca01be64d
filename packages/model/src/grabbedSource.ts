import type { GrabbedSource, Source } from './source';

/** Grabbed from the screen, and neither drawn by the recorder's own practice game nor played from a file. */
export const isGrabbed = (source: Source): source is GrabbedSource =>
  source.kind !== 'practice' && source.kind !== 'sample';
