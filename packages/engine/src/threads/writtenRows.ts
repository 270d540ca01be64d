/** A picture on its way to the drive: its due index, and the position of the file up to which it is written (-1: not known). */
interface Waiting {
  n: number;
  end: number;
}

export interface WrittenRows {
  /** A picture was given to the container, which may keep the last `keepLast` of them back. */
  add(n: number, position: number, keepLast: number): void;
  /** Everything is in the bytes up to here. */
  allAt(position: number): void;
  /** Takes out, in order, what the drive has reached. */
  take(reached: number, written: (n: number) => void): void;
}

/** Tells of each picture when its last byte is with the drive, from the positions the container has handed out. */
export function createWrittenRows(): WrittenRows {
  const waiting: Waiting[] = [];
  let handedOut = 0;
  return {
    add(n, position, keepLast) {
      waiting.push({ n, end: -1 });
      if (position === handedOut) return;
      handedOut = position;
      for (let i = waiting.length - 1 - keepLast; i >= 0; i--) {
        const entry = waiting[i];
        if (!entry || entry.end >= 0) return;
        entry.end = position;
      }
    },
    allAt(position) {
      for (const entry of waiting) if (entry.end < 0) entry.end = position;
    },
    take(reached, written) {
      while (waiting.length) {
        const entry = waiting[0];
        if (!entry || entry.end < 0 || entry.end > reached) return;
        written(entry.n);
        waiting.shift();
      }
    },
  };
}
