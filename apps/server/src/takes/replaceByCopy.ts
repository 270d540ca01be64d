import { statSync } from 'node:fs';
import { relative } from 'node:path';
import { capitalised, takeName } from '@mellow/core';
import { fileOf, sameTracksSchema, type Take, type TakeFile } from '@mellow/model';
import { problem } from '../errors/problem';
import type { DriveService } from '../drives/drives';
import type { JobService } from '../files/jobs';
import { stateOfFile } from '../files/ownFiles';
import { readableOf } from './takeParts';
import type { TakeService } from './takes';

export interface ReplaceServices {
  drives: Pick<DriveService, 'get'>;
  takes: TakeService;
  jobs: JobService;
}

/** The one file made of a take, where it may take the take's place. @throws a problem in words where there is none */
function copyOf(take: Take): TakeFile {
  const copy = fileOf(take, 'copy');
  if (take.state !== 'closed' || take.discarded)
    throw problem(
      'bad-request',
      take.discarded
        ? 'Its own files lie in the discards already.'
        : `${capitalised(takeName(take))} is not a whole take: what there is of it stays.`,
    );
  if (!copy)
    throw problem(
      'bad-request',
      'Nothing was made of this take yet that could hold it. Make an MP4 or one file first.',
    );
  if (stateOfFile(copy) !== 'same')
    throw problem(
      'file-missing',
      `The copy is not at ${copy.path} any more, or another file is. Nothing was discarded.`,
    );
  return copy;
}

/**
 * Makes the copy of a take the take, once it was read to its end and compared: every byte of every track, and every
 * picture in its frame. The take's own files go to the discards: they lie where they lay, until they are emptied.
 */
export async function replaceByCopy({ drives, takes, jobs }: ReplaceServices, takeId: string): Promise<Take> {
  const take = await takes.get(takeId);
  const copy = copyOf(take);
  const found = sameTracksSchema.parse(
    await jobs.run({
      title: `${capitalised(takeName(take))}: comparing it with its copy`,
      takeId,
      logFolder: takes.folder(takeId),
      job: {
        kind: 'same-tracks',
        filePath: readableOf(take, takes.folder(takeId)),
        copyPath: copy.path,
        rate: take.recipe.rate,
      },
    }),
  );
  if (found.why !== null)
    throw problem('job-failed', `The copy does not hold all of the take: ${found.why} Nothing was discarded.`);
  const { folder } = await drives.get(copy.driveId ?? take.driveId);
  const at = new Date().toISOString();
  return takes.update(takeId, (now) => {
    // Somebody else asked for the same meanwhile, or moved the files: what was compared is not what lies there now.
    if (now.discarded || now.filePath !== take.filePath) return {};
    return {
      discarded: { at, stripes: now.stripes },
      stripes: null,
      filePath: copy.path,
      fileName: relative(folder, copy.path),
      files: now.files.map((file): TakeFile => {
        if (file.path === copy.path) return { ...file, role: 'take' };
        if (file.role !== 'take') return file;
        return { ...file, role: 'discard', bytes: statSync(file.path, { throwIfNoEntry: false })?.size ?? file.bytes };
      }),
    };
  });
}
