import { readdirSync } from 'node:fs';

/** How many files this process holds open; always 0 where the system does not tell. */
export const openFiles = (): number => (process.platform === 'linux' ? readdirSync('/proc/self/fd').length : 0);

/** The system takes only so many bytes at a time from now on, as it may. @returns ends that */
export function writingInParts(mostBytes: number): () => void {
  const real = process.getBuiltinModule('node:fs');
  const { writeSync } = real;
  const spy = jest
    .spyOn(real, 'writeSync')
    .mockImplementation(((handle: number, bytes: Uint8Array, offset: number, length: number, position: number | null) =>
      writeSync(handle, bytes, offset, Math.min(length, mostBytes), position)) as never);
  return () => spy.mockRestore();
}
