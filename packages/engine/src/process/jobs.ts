import { renameSync, rmSync } from 'node:fs';
import { extname } from 'node:path';
import type { MediaJob } from '@mellow/model';
import { copyTracks } from '../media/copyTracks';
import { proveEncoder } from '../media/proveEncoder';
import { readBack } from '../media/readBack';
import { rewrapToMp4 } from '../media/rewrap';
import { writeStill } from '../media/still';
import { rescueTake } from './rescue';
import { measureWriteSpeed } from './writeSpeed';

/** Runs one media job; results are plain data. A result file appears under its name only when it is whole. */
export async function runJob(
  job: MediaJob,
  log: (level: 'info' | 'warn' | 'error', text: string) => void,
): Promise<unknown> {
  switch (job.kind) {
    case 'rescue':
      return rescueTake(job, log);
    case 'facts':
      return readBack(job.filePath).facts;
    case 'hear':
      return whole(job.outPath, (path) =>
        copyTracks(job.filePath, path, {
          format: extname(job.outPath) === '.mkv' ? 'matroska' : 'mp4',
          lanes: [job.lane],
          muxer: {},
        }),
      );
    case 'still':
      return whole(job.outPath, (path) => writeStill(job.filePath, path, job.atUs));
    case 'rewrap':
      return rewrapToMp4(job.filePath, job.outPath, (write) => whole(job.outPath, write));
    case 'prove-encoder':
      return proveEncoder(job);
    case 'write-speed':
      return measureWriteSpeed(job.folder, job.seconds);
  }
}

function whole(path: string, write: (temporary: string) => void): string {
  const temporary = `${path.slice(0, -extname(path).length)}.part${extname(path)}`;
  try {
    write(temporary);
    renameSync(temporary, path);
  } finally {
    rmSync(temporary, { force: true });
  }
  return path;
}
