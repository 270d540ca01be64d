import { rmSync } from 'node:fs';
import { extname } from 'node:path';
import type { FrameRate, RewrapResult } from '@mellow/model';
import { syncFile, temporaryBeside } from '../files/durable';
import { identityOfPath } from '../files/identity';
import { noJournal, reserveNoted, type Journal } from '../files/journal';
import { giveBack, replaceOwn } from '../files/reserve';
import { copyStripes } from './copyStripes';
import { copyTracks } from './copyTracks';
import { factsOf, type ReadProgress } from '../reading/readBack';

/**
 * Copies every track of a file, or of all parts in a list, into one Matroska or plain MP4 without encoding again, flushes
 * it, reads it back and compares, and only then gives it its name. A name that is taken, by whomever, gets a number.
 * @param asIs puts the blocks of a striped take together byte by byte, into the file they were written as
 * @param journal told of each step before it is done
 * @throws where the copy has not as many pictures and lanes as the source; nothing is left then
 */
export function rewrapFile(
  filePath: string,
  outPath: string,
  rate: FrameRate | null,
  progress: ReadProgress,
  asIs = false,
  journal: Journal = noJournal,
): RewrapResult {
  const reserved = reserveNoted(outPath, journal);
  const temporary = temporaryBeside(reserved.path);
  try {
    journal({ step: 'temporary', path: temporary });
    const source = asIs
      ? copyStripes(filePath, temporary, progress)
      : copyTracks(filePath, temporary, {
          ...(extname(outPath) === '.mkv'
            ? { format: 'matroska' as const, muxer: { cluster_time_limit: '1000' } }
            : { format: 'mp4' as const, muxer: {}, indexInFront: true }),
          lanes: null,
          rate,
          progress,
        });
    syncFile(temporary);
    const copy = factsOf(temporary, progress);
    if (copy.picture.packets !== source.picture.packets || copy.lanes.length !== source.lanes.length)
      throw new Error(
        `The copy has ${copy.picture.packets} pictures and ${copy.lanes.length} lanes, the take ${source.picture.packets} and ${source.lanes.length}. It was put aside; the take is as it was.`,
      );
    const identity = identityOfPath(temporary);
    journal({ step: 'remade', path: reserved.path, identity });
    replaceOwn(temporary, reserved);
    return {
      filePath: reserved.path,
      identity,
      bytes: copy.bytes,
      pictures: copy.picture.packets,
      lanes: copy.lanes.length,
    };
  } catch (error) {
    rmSync(temporary, { force: true });
    giveBack(reserved);
    throw error;
  }
}
