import { randomFillSync } from 'node:crypto';
import { closeSync, fdatasyncSync, fsyncSync, openSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ascending, percentileOfSorted } from '@mellow/core';
import { writeFully } from '../files/durable';
import type { ReadProgress } from '../media/readBack';

const blockBytes = 4 << 20;
const runs = 3;

/**
 * Writes incompressible blocks of 4 MB, each flushed to the device before the next, to an ever growing file; the median
 * of three runs. Without flushing each block, or when the same place is written over, only the cache would be measured.
 * @returns bytes a second
 */
export function measureWriteSpeed(folder: string, seconds: number, progress: ReadProgress): number {
  const block = randomFillSync(Buffer.alloc(blockBytes));
  const path = join(folder, `.write-test-${process.pid}`);
  const speeds: number[] = [];
  try {
    for (let run = 0; run < runs; run++) {
      const file = openSync(path, 'wx');
      try {
        const startedMs = performance.now();
        let bytes = 0;
        while (performance.now() - startedMs < (seconds * 1000) / runs) {
          writeFully(file, block, bytes);
          fdatasyncSync(file);
          bytes += block.length;
          progress(run + Math.min(1, ((performance.now() - startedMs) * runs) / (seconds * 1000)), runs);
        }
        speeds.push(bytes / ((performance.now() - startedMs) / 1000));
        fsyncSync(file);
      } finally {
        closeSync(file);
        rmSync(path, { force: true });
      }
    }
  } finally {
    rmSync(path, { force: true });
  }
  return percentileOfSorted(ascending(speeds), 0.5);
}
