import type { Frame } from 'node-av/lib';
import { filterInputOf, openPictureFilter, type FilterInput, type PictureFilter } from './pictureFilter';

/** A chain of filters for pictures that may change their size or kind on the way: it is opened anew when they do. */
export interface FittingFilter {
  /** Runs one picture through; both frames are the caller's, and what was in the second is given up. */
  run(input: Frame, into: Frame): void;
  free(): void;
}

const same = (a: FilterInput, b: FilterInput): boolean =>
  a.widthPx === b.widthPx &&
  a.heightPx === b.heightPx &&
  a.pixels === b.pixels &&
  a.range === b.range &&
  a.matrix === b.matrix;

/** @param chain in the filter library's own words */
export function openFittingFilter(chain: string): FittingFilter {
  let open: { of: FilterInput; filter: PictureFilter } | null = null;
  return {
    run(input, into) {
      const of = filterInputOf(input);
      if (!open || !same(open.of, of)) {
        open?.filter.free();
        open = null;
        open = { of, filter: openPictureFilter(of, chain) };
      }
      into.unref();
      open.filter.run(input, into);
    },
    free() {
      open?.filter.free();
      open = null;
    },
  };
}
