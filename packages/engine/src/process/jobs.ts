import { rmSync } from 'node:fs';
import { extname } from 'node:path';
import { Device } from 'node-av/lib';
import type { MediaJob } from '@mellow/model';
import { syncFile, temporaryBeside } from '../files/durable';
import { reserveNoted, type Journal } from '../files/journal';
import { moveFile } from '../files/moveFile';
import { replaceOwn } from '../files/reserve';
import { gatherHindsight } from '../hindsight/gatherHindsight';
import { closeLedger } from '../ledger/closeLedger';
import { compareKept } from '../reading/compareKept';
import { copyTracks } from '../copying/copyTracks';
import { proveEncoder } from '../encode/proveEncoder';
import { factsOf, type ReadProgress } from '../reading/readBack';
import { rewrapFile } from '../copying/rewrap';
import { encodeUnpaced } from '../encode/encodeUnpaced';
import { sameTracks } from '../reading/sameTracks';
import { sampleFacts } from '../reading/sampleReader';
import { writeStill } from '../reading/still';
import { listedCameras } from '../camera/cameraTable';
import { lookByLibrary } from '../screen/libraryLook';
import { listedSounds } from '../sound/deviceTable';
import { rescueTake } from './rescue';
import { testDrive } from './driveTest';

export interface JobVoice {
  log(level: 'info' | 'warn' | 'error', text: string): void;
  progress: ReadProgress;
  /** Told of each step on files before it is done. */
  journal: Journal;
}

/** Runs one media job; results are plain data. A result file appears under its name only when it is whole. */
export function runJob(job: MediaJob, { log, progress, journal }: JobVoice): unknown {
  switch (job.kind) {
    case 'read-back': {
      const { presented, passedOver, notReached } = job;
      const counts = { presented, passedOver, notReached };
      return closeLedger({
        folder: job.ledgerFolder,
        filePath: job.filePath,
        interrupted: job.interrupted,
        counts,
        log,
        progress,
      });
    }
    case 'rescue':
      return rescueTake(job, { log, progress, journal });
    case 'facts':
      return factsOf(job.filePath, progress);
    case 'sample-facts':
      return sampleFacts(job.filePath, progress);
    case 'hear': {
      const format = extname(job.outPath) === '.mkv' ? 'matroska' : 'mp4';
      const options = { format, lanes: [job.lane], muxer: {}, rate: job.rate, progress } as const;
      return whole(job.outPath, journal, (path) => copyTracks(job.filePath, path, options));
    }
    case 'still':
      return whole(job.outPath, journal, (path) => writeStill(job.filePath, path, job.atUs));
    case 'rewrap':
      return rewrapFile(job.filePath, job.outPath, job.rate, progress, job.asIs, journal);
    case 'same-tracks':
      return sameTracks(job.filePath, job.copyPath, job.rate, progress);
    case 'compare-kept':
      return compareKept(job, progress);
    case 'encode-unpaced':
      return encodeUnpaced(job, progress);
    case 'prove-encoder':
      return proveEncoder(job, progress);
    case 'list-sounds':
      return listedSounds(process.platform, Device.listSync());
    case 'screen-look':
      return lookByLibrary(job.source);
    case 'list-cameras':
      return listedCameras(process.platform, process.platform === 'linux' ? [] : Device.listSync());
    case 'gather-hindsight':
      return gatherHindsight(job.folder, { path: job.outPath, identity: job.identity });
    case 'move-file':
      return moveFile(job.filePath, job.identity, { path: job.outPath, identity: job.outIdentity }, progress, journal);
    case 'drive-test':
      return testDrive(job.folder, job.mostS, progress);
  }
}

/** Writes a file of ours under a temporary name, flushes it and gives it its name. */
function whole(path: string, journal: Journal, write: (temporary: string) => void): string {
  rmSync(path, { force: true });
  const reserved = reserveNoted(path, journal);
  const temporary = temporaryBeside(reserved.path);
  try {
    journal({ step: 'temporary', path: temporary });
    write(temporary);
    syncFile(temporary);
    replaceOwn(temporary, reserved);
  } catch (error) {
    rmSync(temporary, { force: true });
    rmSync(reserved.path, { force: true });
    throw error;
  }
  return reserved.path;
}
