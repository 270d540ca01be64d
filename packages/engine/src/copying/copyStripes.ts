import { closeSync, openSync } from 'node:fs';
import type { MediaFacts } from '@mellow/model';
import { writeFully } from '../files/durable';
import { factsOf, type ReadProgress } from '../reading/readBack';
import { openStripes } from '../container/stripesList';

const pieceBytes = 1 << 20;

/** Puts the blocks of a striped take together, byte by byte. @returns what the stripes hold. @throws what the drive says */
export function copyStripes(list: string, to: string, progress: ReadProgress): MediaFacts {
  const stripes = openStripes(list);
  const copy = openSync(to, 'wx');
  try {
    const piece = Buffer.allocUnsafe(pieceBytes);
    for (let at = 0; at < stripes.bytes;) {
      const count = stripes.read(piece, at);
      if (count <= 0) throw new Error('A stripe is shorter than its list says; it may be read and changed elsewhere.');
      writeFully(copy, piece.subarray(0, count), at);
      at += count;
      progress(at, stripes.bytes);
    }
  } finally {
    closeSync(copy);
    stripes.close();
  }
  return factsOf(list);
}
