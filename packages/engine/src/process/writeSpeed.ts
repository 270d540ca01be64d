import { closeSync, fdatasyncSync, openSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { randomFillSync } from 'node:crypto';
import { ascending, percentileOfSorted } from '@mellow/core';

const blockBytes = 4 << 20;

/**
 * Writes incompressible blocks of 4 MB for some seconds, synced each half second inside the timing;
 * the median of three runs. Without syncing only the cache would be measured.
 * @returns bytes a second
 */
export function measureWriteSpeed(folder: string, seconds: number): number {
  const block = randomFillSync(Buffer.alloc(blockBytes));
  const path = join(folder, `.write-test-${process.pid}`);
  const speeds: number[] = [];
  try {
    for (let run = 0; run < 3; run++) {
      const file = openSync(path, 'w');
      const startedMs = performance.now();
      let lastSyncMs = startedMs;
      let bytes = 0;
      while (performance.now() - startedMs < (seconds * 1000) / 3) {
        bytes += writeSync(file, block, 0, block.length, bytes % (256 << 20));
        if (performance.now() - lastSyncMs > 500) {
          fdatasyncSync(file);
          lastSyncMs = performance.now();
        }
      }
      fdatasyncSync(file);
      speeds.push(bytes / ((performance.now() - startedMs) / 1000));
      closeSync(file);
    }
  } finally {
    rmSync(path, { force: true });
  }
  return percentileOfSorted(ascending(speeds), 0.5);
}
