import { dirname, join, relative } from 'node:path';
import { existsSync, statSync } from 'node:fs';
import { capitalised, formatBytes, reserveBytes, takeName, errorText } from '@mellow/core';
import { giveBack, provenAt, reserveNoted, whatLiesAt, type JournalStep } from '@mellow/engine';
import { endedStates, movedFileSchema, type Drive, type MovedTakes, type Take, type TakeFile } from '@mellow/model';
import { problem } from '../errors/problem';
import type { RecorderService } from '../recorder/recorderService';
import type { AppLog } from '../program/appLog';
import { demoDriveId, type DriveService } from '../drives/drives';
import type { JobService } from '../files/jobs';
import type { Journals } from '../files/journals';
import { removeOwnFiles, stateOfFile } from '../files/ownFiles';
import type { SetupService } from '../setups/setups';
import type { TakeService } from '../takes/takes';

export interface MoveServices {
  drives: DriveService;
  takes: TakeService;
  setups: SetupService;
  jobs: JobService;
  journals: Pick<Journals, 'storing'>;
  recorder: RecorderService;
  log: AppLog;
}

export type MoveTakes = (fromId: string, toId: string) => Promise<MovedTakes>;

/** What of a take lies below a drive's folder, and below none inside it that is a drive of its own. */
function filesIn(take: Take, { folder }: Pick<Drive, 'folder'>, known: readonly Pick<Drive, 'folder'>[]): TakeFile[] {
  const lies = (path: string, within: string): boolean => path.startsWith(join(within, '/'));
  const inner = known.filter((one) => lies(one.folder, folder));
  return take.files.filter(
    ({ path }) => lies(path, folder) && !inner.some((one) => lies(path, one.folder)) && existsSync(path),
  );
}

const withFileAt = (take: Take, path: string, change: Partial<TakeFile>): Pick<Take, 'files'> => ({
  files: take.files.map((file) => (file.path === path ? { ...file, ...change } : file)),
});

function movedTo(
  take: Take,
  from: string,
  moved: Pick<TakeFile, 'path' | 'identity'>,
  to: Pick<Drive, 'id' | 'folder'>,
) {
  const isTake = take.filePath === from;
  return {
    ...withFileAt(take, from, { ...moved, driveId: to.id, movingTo: undefined }),
    ...(isTake ? { filePath: moved.path, fileName: relative(to.folder, moved.path), driveId: to.id } : {}),
  };
}

/** Stores where a file lies by now. What trials play comes first: until the take knows it, all of it is done again. */
async function storeMoved(
  { takes, setups }: Pick<MoveServices, 'takes' | 'setups'>,
  takeId: string,
  from: string,
  moved: Pick<TakeFile, 'path' | 'identity'>,
  to: Pick<Drive, 'id' | 'folder'>,
): Promise<void> {
  for (const { id, sample } of await setups.list())
    if (sample?.path === from) await setups.setSample(id, { ...sample, path: moved.path });
  await takes.update(takeId, (now) => movedTo(now, from, moved, to));
}

type Settling = Pick<MoveServices, 'takes' | 'setups' | 'drives'>;

/**
 * Finds out where files lie that were being moved when somebody died. What has arrived is the file itself under another name, or the
 * copy that was proven before it took its place; anything else there is somebody's, and nothing is deleted for it.
 * @param steps what the work on files had written down
 */
async function settle(
  { takes, setups, drives }: Settling,
  takeId: string,
  steps: readonly JournalStep[],
): Promise<void> {
  const known = await drives.list(() => 0);
  for (const file of (await takes.get(takeId)).files) {
    if (!file.movingTo) continue;
    const { path, identity } = file.movingTo;
    const to = known.find(({ folder }) => path.startsWith(join(folder, '/')));
    const copy = provenAt(steps, path);
    const arrived = [copy, file.identity].find((one) => one !== null && whatLiesAt(path, one) === 'same') ?? null;
    // Neither here nor there: where it was to go is away, and it may have arrived. It is found when that is back.
    if (!arrived && stateOfFile(file) !== 'same' && !existsSync(dirname(path))) continue;
    if (!arrived || !to) {
      giveBack({ path, identity });
      await takes.update(takeId, (now) => withFileAt(now, file.path, { movingTo: undefined }));
      continue;
    }
    await storeMoved({ takes, setups }, takeId, file.path, { path, identity: arrived }, to);
    removeOwnFiles([file]);
  }
}

/** Looks after takes that were being moved when the application ended. */
export async function settleMoves(services: Settling, steps: readonly JournalStep[]): Promise<void> {
  for (const { id, files } of await services.takes.list())
    if (files.some(({ movingTo }) => movingTo)) await settle(services, id, steps);
}

/**
 * Moves all takes of one folder into another, file by file, in the same subfolders: each is whole in one place or the other,
 * and the take knows where before the next is touched. What cannot be moved stays, with the reason.
 */
export function createMoveTakes({ drives, takes, setups, jobs, journals, recorder, log }: MoveServices): MoveTakes {
  async function moveOne(take: Take, file: TakeFile, from: Drive, to: Drive, run: JobService['run']): Promise<void> {
    const target = await journals.storing(async (note) => {
      const movingTo = reserveNoted(join(to.folder, relative(from.folder, file.path)), note);
      await takes.update(take.id, (now) => withFileAt(now, file.path, { movingTo }));
      return movingTo;
    });
    const job = { filePath: file.path, identity: file.identity, outPath: target.path, outIdentity: target.identity };
    await run({
      title: `Moving ${takeName(take)}`,
      takeId: take.id,
      job: { kind: 'move-file', ...job },
      store: (moved) => storeMoved({ takes, setups }, take.id, file.path, movedFileSchema.parse(moved), to),
      onLeft: (steps) => settle({ takes, setups, drives }, take.id, steps),
    });
  }

  async function moveAll(from: Drive, to: Drive): Promise<MovedTakes> {
    // What waits for its drive is looked for where it was left.
    const found = (await takes.list()).filter(({ state }) => endedStates.includes(state) && state !== 'waiting');
    const known = await drives.list(() => 0);
    const work = found.flatMap((take) => filesIn(take, from, known).map((file) => ({ take, file })));
    const bytes = work.reduce((sum, { file }) => sum + statSync(file.path).size, 0);
    const free = to.quotaBytes === null ? drives.freeBytes(to) : to.quotaBytes - (await takes.bytesOnDrive(to.id));
    const elsewhere = statSync(to.folder).dev !== statSync(from.folder).dev;
    if ((elsewhere || to.quotaBytes !== null) && free !== null && free < bytes + reserveBytes)
      throw problem(
        'drive-problem',
        `${to.name} has ${formatBytes(free)} free, and the takes of ${from.name} need ${formatBytes(bytes)}. Nothing was moved.`,
      );
    const left: MovedTakes['left'] = [];
    let moved = 0;
    await jobs.series(`Moving the takes of ${from.name}`, work.length, async (run, signal) => {
      for (const { take, file } of work) {
        if (signal.aborted) {
          left.push({ path: file.path, why: 'it was ended before' });
          continue;
        }
        try {
          await moveOne(take, file, from, to, run);
          moved++;
        } catch (error) {
          left.push({ path: file.path, why: errorText(error) });
          log.add('warn', `${capitalised(takeName(take))} stays at ${dirname(file.path)}: ${errorText(error)}`);
        }
      }
    });
    return { moved, left };
  }

  return async (fromId, toId) => {
    const [from, to] = [await drives.get(fromId), await drives.get(toId)];
    if (from.id === to.id) throw problem('bad-request', 'The takes lie in that folder already. Nothing was moved.');
    if (to.id === demoDriveId)
      throw problem(
        'bad-request',
        'This folder goes with the demo. Choose another one, or add one. Nothing was moved.',
      );
    const trouble = drives.problemOf(from) ?? drives.problemOf(to);
    if (trouble) throw problem('drive-problem', `${trouble} Nothing was moved.`);
    return recorder.beside(() => moveAll(from, to));
  };
}
