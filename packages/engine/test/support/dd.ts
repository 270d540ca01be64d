import { execFileSync } from 'node:child_process';
import { randomFillSync } from 'node:crypto';
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DriveTest } from '@mellow/model';

/**
 * Bytes a second that dd (GNU coreutils) tells with blocks of 4 MB and the same way of writing. Its data is random too: a
 * drive may write zeros faster than anything else.
 */
export function speedByDd(folder: string, way: DriveTest['way'], blocks = 48): number {
  const source = join(existsSync('/dev/shm') ? '/dev/shm' : tmpdir(), `mellow-random-${process.pid}`);
  const target = join(folder, 'dd');
  writeFileSync(source, randomFillSync(Buffer.alloc(blocks * (4 << 20))));
  try {
    const flags = way === 'direct' ? 'direct,dsync' : 'dsync';
    const out = execFileSync(
      'sh',
      ['-c', `LC_ALL=C dd if="${source}" of="${target}" bs=4M count=${blocks} oflag=${flags} 2>&1`],
      { encoding: 'utf8' },
    );
    const [, bytes, seconds] = /(\d+) bytes .* copied, ([\d.]+) s/.exec(out) ?? [];
    return Number(bytes) / Number(seconds);
  } finally {
    rmSync(source, { force: true });
    rmSync(target, { force: true });
  }
}
