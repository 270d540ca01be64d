import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import { placeInStripes, wholeInStripes } from '@mellow/core';
import type { StripeLayout } from '@mellow/model';

/** Stripes read as the one file they are blocks of, as far as none is missing. */
export interface StripedReading {
  bytes: number;
  /** Bytes from a position on, up to the end of their block. @returns how many; 0 at the end */
  read(into: Buffer, position: number): number;
  close(): void;
}

/** @throws where a stripe cannot be opened */
export function openStripedReading(layout: StripeLayout, paths: readonly string[]): StripedReading {
  const handles: number[] = [];
  const close = (): void => {
    for (const handle of handles.splice(0)) closeSync(handle);
  };
  try {
    for (const path of paths) handles.push(openSync(path, 'r'));
  } catch (error) {
    close();
    throw error;
  }
  const bytes = wholeInStripes(
    layout,
    handles.map((handle) => fstatSync(handle).size),
  );
  return {
    bytes,
    read(into, position) {
      const { stripe, at, bytes: inBlock } = placeInStripes(layout, position);
      const handle = handles[stripe];
      const most = Math.min(into.length, inBlock, bytes - position);
      return handle === undefined || most <= 0 ? 0 : readSync(handle, into, 0, most, at);
    },
    close,
  };
}
