/**
 * A ring of messages between two threads, one writer and one reader, in shared memory.
 * A message is five numbers and bytes, in one piece; lengths are multiples of 8.
 */
const fieldCount = 5;
const headBytes = 8 * (fieldCount + 1);
const SKIP = -1;
const [WRITTEN, READ, PUSHED, POPPED] = [0, 1, 2, 3] as const;

export interface RingMemory {
  counters: SharedArrayBuffer;
  data: SharedArrayBuffer;
}

/** @param bytes rounded up to a power of two */
export function createRingMemory(bytes: number): RingMemory {
  let size = 4096;
  while (size < bytes) size *= 2;
  return { counters: new SharedArrayBuffer(16), data: new SharedArrayBuffer(size) };
}

export interface RingMessage {
  fields: readonly [number, number, number, number, number];
  /** Valid until `done` is called. */
  payload: Uint8Array;
}

export interface RingWriter {
  /** Waits for room until the time is over; false if there was none. Without `notify` the reader finds it when it looks next. */
  push(fields: RingMessage['fields'], payload: Uint8Array | null, timeoutUs: number, notify?: boolean): boolean;
  count(): number;
  /** Sleeps until the reader took something, or the time is over. */
  waitForReader(timeoutUs: number): void;
}

export interface RingReader {
  /** The next message, null when none came in time. */
  next(timeoutUs: number): RingMessage | null;
  /** Gives the place of the last message back. */
  done(): void;
  count(): number;
}

/**
 * An empty ring is begun anew from here on. Its size is for a reader that falls behind: where none does, only its beginning
 * is ever touched, and the system does not have to give it the rest.
 */
const usualHomeBytes = 1 << 20;

const padded = (n: number): number => (n + 7) & ~7;

export function openRingWriter(memory: RingMemory, homeBytes = usualHomeBytes): RingWriter {
  const counters = new Int32Array(memory.counters);
  const size = memory.data.byteLength;
  const bytes = new Uint8Array(memory.data);
  const numbers = new Float64Array(memory.data);
  const used = () => (Atomics.load(counters, WRITTEN) - Atomics.load(counters, READ)) >>> 0;
  const waitForReader = (timeoutUs: number) => {
    Atomics.wait(counters, READ, Atomics.load(counters, READ), timeoutUs / 1000);
  };
  const waitForRoom = (needed: number, timeoutUs: number): boolean => {
    const end = performance.now() + timeoutUs / 1000;
    for (;;) {
      const read = Atomics.load(counters, READ);
      if (size - used() >= needed) return true;
      const left = end - performance.now();
      if (left <= 0) return false;
      Atomics.wait(counters, READ, read, Math.min(left, 50));
    }
  };
  return {
    push(fields, payload, timeoutUs, notify = true) {
      const length = headBytes + padded(payload?.byteLength ?? 0);
      if (length > size / 2) throw new RangeError(`a message of ${length} bytes does not fit into a ring of ${size}`);
      const written = Atomics.load(counters, WRITTEN) >>> 0;
      let at = written % size;
      const begunAnew = at >= homeBytes && at >= length && used() === 0;
      const skip = begunAnew || at + length > size ? size - at : 0;
      if (!waitForRoom(length + skip, timeoutUs)) return false;
      if (skip) {
        numbers[at / 8] = SKIP;
        at = 0;
      }
      numbers[at / 8] = payload?.byteLength ?? 0;
      for (let i = 0; i < fieldCount; i++) numbers[at / 8 + 1 + i] = fields[i] ?? 0;
      if (payload) bytes.set(payload, at + headBytes);
      Atomics.add(counters, PUSHED, 1);
      Atomics.store(counters, WRITTEN, (written + skip + length) | 0);
      if (notify) Atomics.notify(counters, WRITTEN);
      return true;
    },
    count: () => Atomics.load(counters, PUSHED) - Atomics.load(counters, POPPED),
    waitForReader,
  };
}

export function openRingReader(memory: RingMemory): RingReader {
  const counters = new Int32Array(memory.counters);
  const size = memory.data.byteLength;
  const bytes = new Uint8Array(memory.data);
  const numbers = new Float64Array(memory.data);
  let current = 0;
  return {
    next(timeoutUs) {
      let read = Atomics.load(counters, READ) >>> 0;
      const seen = Atomics.load(counters, WRITTEN);
      if (seen >>> 0 === read) {
        if (timeoutUs > 0) Atomics.wait(counters, WRITTEN, seen, timeoutUs / 1000);
        if (Atomics.load(counters, WRITTEN) >>> 0 === read) return null;
      }
      let at = read % size;
      if (numbers[at / 8] === SKIP) {
        read = (read + size - at) >>> 0;
        at = 0;
      }
      const length = numbers[at / 8] ?? 0;
      const field = (i: number) => numbers[at / 8 + 1 + i] ?? 0;
      current = (read + headBytes + padded(length)) | 0;
      return {
        fields: [field(0), field(1), field(2), field(3), field(4)],
        payload: bytes.subarray(at + headBytes, at + headBytes + length),
      };
    },
    done() {
      Atomics.add(counters, POPPED, 1);
      Atomics.store(counters, READ, current);
      Atomics.notify(counters, READ);
    },
    count: () => Atomics.load(counters, PUSHED) - Atomics.load(counters, POPPED),
  };
}
