import { closeSync, openSync, readSync } from 'node:fs';

const pieceBytes = 1 << 20;

/** A file's bytes in pieces of a megabyte, one after another; the file is closed when the reader stops. */
export function* filePieces(path: string): Generator<Uint8Array> {
  const handle = openSync(path, 'r');
  try {
    for (;;) {
      const piece = new Uint8Array(pieceBytes);
      const count = readSync(handle, piece, 0, pieceBytes, null);
      if (count === 0) return;
      yield piece.subarray(0, count);
    }
  } finally {
    closeSync(handle);
  }
}

/** Whole lines of a text file; a last line without its end was cut off and is left out. */
export function* fileLines(path: string): Generator<string> {
  const decoder = new TextDecoder();
  let rest = '';
  for (const piece of filePieces(path)) {
    const lines = (rest + decoder.decode(piece, { stream: true })).split('\n');
    rest = lines.pop() ?? '';
    yield* lines;
  }
}
