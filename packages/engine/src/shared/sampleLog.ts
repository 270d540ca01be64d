/** The last measurements of something, written by one thread and read by another once a second. */
const logLength = 4096;

export interface SampleLogMemory {
  count: SharedArrayBuffer;
  values: SharedArrayBuffer;
}

export const createSampleLogMemory = (): SampleLogMemory => ({
  count: new SharedArrayBuffer(4),
  values: new SharedArrayBuffer(logLength * 8),
});

export interface SampleLog {
  add(value: number): void;
  count(): number;
  at(index: number): number;
  /** Values since a count, at most the log's length; returns the new count with them. */
  since(count: number): { values: number[]; count: number };
}

export function openSampleLog(memory: SampleLogMemory): SampleLog {
  const count = new Int32Array(memory.count);
  const values = new Float64Array(memory.values);
  const at = (index: number) => values[index % logLength] ?? 0;
  return {
    add(value) {
      const n = Atomics.load(count, 0);
      values[n % logLength] = value;
      Atomics.store(count, 0, n + 1);
    },
    count: () => Atomics.load(count, 0),
    at,
    since(from) {
      const end = Atomics.load(count, 0);
      const list: number[] = [];
      for (let i = Math.max(from, end - logLength); i < end; i++) list.push(at(i));
      return { values: list, count: end };
    },
  };
}
