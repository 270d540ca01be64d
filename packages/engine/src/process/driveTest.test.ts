import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { testDrive } from './driveTest';

it('writes into one file after the other, none of which is left when it is killed', () => {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-drive-'));
  const seen: string[][] = [];
  try {
    const found = testDrive(folder, 1, () => seen.push(readdirSync(folder)), 8.4e6);
    expect(found.bytesPerSecond).toBeGreaterThan(0);
    expect(found.trace.every((speed) => speed > 0)).toBe(true);
    // Windows keeps the name of an open file.
    if (process.platform !== 'win32') expect(seen.flat()).toEqual([]);
    expect(seen.length).toBe(found.trace.length);
    expect(readdirSync(folder)).toEqual([]);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
