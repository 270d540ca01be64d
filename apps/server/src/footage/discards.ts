import { relative } from 'node:path';
import PQueue from 'p-queue';
import { capitalised, discardsGoAt, takeName, errorText } from '@mellow/core';
import { partsOf, type Removal, type Take, type TakeFile } from '@mellow/model';
import { problem } from '../errors/problem';
import type { RecorderService } from '../recorder/recorderService';
import type { AppLog } from '../program/appLog';
import type { DriveService } from '../drives/drives';
import type { Journals } from '../files/journals';
import type { LiveHub } from '../program/liveHub';
import { removeOwnFiles, stateOfFile } from '../files/ownFiles';
import { replaceByCopy, type ReplaceServices } from '../takes/replaceByCopy';
import type { SetupService } from '../setups/setups';

/** Footage that a proven copy took the place of: it can be brought back until it is emptied. */
export interface DiscardService {
  /** The copy of a take becomes the take, once it is proven to hold all of it. */
  discard(takeId: string): Promise<Take>;
  /** The take's own files are the take again, and its copy a copy. */
  bringBack(takeId: string): Promise<Take>;
  /** Removes what lies in the discards, of one take or of all. */
  empty(takeId?: string): Promise<Removal>;
  begin(): void;
  close(): void;
}

export interface DiscardServices extends ReplaceServices {
  drives: Pick<DriveService, 'get' | 'problemOf'>;
  setups: Pick<SetupService, 'list'>;
  journals: Pick<Journals, 'open'>;
  recorder: Pick<RecorderService, 'beside'>;
  live: LiveHub;
  log: AppLog;
  /** Today; another day in tests. */
  now?: () => Date;
}

const lookEveryMs = 3_600_000;
const isDiscard = ({ role }: TakeFile): boolean => role === 'discard';

export function createDiscards(services: DiscardServices): DiscardService {
  const { takes, setups, recorder, live, log, now = () => new Date() } = services;
  let timer: NodeJS.Timeout | null = null;

  // What is being emptied is not brought back meanwhile, and the other way round.
  const queue = new PQueue({ concurrency: 1 });

  const queued = <T>(work: () => Promise<T>): Promise<T> => queue.add(work) as Promise<T>;

  async function emptyAll(wanted: (take: Take) => boolean): Promise<Removal> {
    const removal: Removal = { removed: [], left: [] };
    for (const take of (await takes.list()).filter((one) => one.discarded && wanted(one))) {
      const { removed, left } = await queued(() => removeOf(services, take.id));
      removal.removed.push(...removed);
      removal.left.push(...left);
    }
    return removal;
  }

  /** By themselves they go while nothing rolls, since freeing many bytes is work for a drive. */
  async function emptyDue(): Promise<void> {
    if (live.state().recorder !== 'idle') return;
    const { removed, left } = await emptyAll((take) => (discardsGoAt(take) ?? now()) <= now());
    if (removed.length) log.add('info', `Emptied of the discards, after a week: ${removed.join(', ')}.`);
    for (const { path, why } of left) log.add('warn', `${path} stays in the discards: ${why}`);
  }

  return {
    async discard(takeId) {
      const take = await takes.get(takeId);
      const own = partsOf(take).map(({ path }) => path);
      const player = (await setups.list()).find(({ sample }) => sample !== null && own.includes(sample.path));
      if (player)
        throw problem(
          'still-used',
          `Trials of ${player.name} play this file. Let them play something else on Path first; nothing was discarded.`,
        );
      return recorder.beside(() => replaceByCopy(services, takeId));
    },
    bringBack: (takeId) => queued(() => broughtBack(services, takeId)),
    empty: (takeId) => (takeId === undefined ? emptyAll(() => true) : queued(() => removeOf(services, takeId))),
    begin() {
      const look = () => void emptyDue().catch((error: unknown) => log.add('warn', `Discards: ${errorText(error)}`));
      look();
      timer = setInterval(look, lookEveryMs);
      timer.unref();
    },
    close: () => void (timer && clearInterval(timer)),
  };
}

/** Removes what of a take lies in the discards, unless it may be all that is left of it. */
async function removeOf({ takes, drives, journals }: DiscardServices, takeId: string): Promise<Removal> {
  const take = await takes.get(takeId);
  const removal: Removal = { removed: [], left: [] };
  const gone: string[] = [];
  const missing = partsOf(take).find((own) => stateOfFile(own) !== 'same');
  const needed = missing && `what took its place is not at ${missing.path} as it was: this may be all that is left`;
  const journal = journals.open();
  journal.note({ step: 'emptying', takeId });
  for (const file of take.files.filter(isDiscard)) {
    const why = needed ?? (await driveTrouble(drives, file.driveId ?? take.driveId));
    if (why) {
      removal.left.push({ path: file.path, why });
      continue;
    }
    const { removed, left } = removeOwnFiles([file]);
    removal.removed.push(...removed);
    removal.left.push(...left);
    // What is no longer the take's is nobody's business any more; what could not be removed is tried again.
    if (stateOfFile(file) !== 'same') gone.push(file.path);
  }
  await takes.update(take.id, (current) => {
    const files = current.files.filter((file) => !isDiscard(file) || !gone.includes(file.path));
    return { files, discarded: files.some(isDiscard) ? current.discarded : null };
  });
  journal.done();
  return removal;
}

/** Files of a drive that is away are not gone. */
async function driveTrouble(drives: DiscardServices['drives'], driveId: string): Promise<string | null> {
  try {
    return drives.problemOf(await drives.get(driveId));
  } catch (error) {
    return errorText(error);
  }
}

/** The take's own files are the take again. */
async function broughtBack({ takes, drives }: DiscardServices, takeId: string): Promise<Take> {
  const take = await takes.get(takeId);
  const discards = take.files.filter(isDiscard);
  if (!take.discarded || !discards.length)
    throw problem('bad-request', `${capitalised(takeName(take))} has nothing in the discards. Nothing was changed.`);
  const missing = discards.find((file) => stateOfFile(file) !== 'same');
  if (missing)
    throw problem(
      'file-missing',
      `${missing.path} is not there any more, or another file is. The take stays as it is.`,
    );
  const { folder } = await drives.get(take.driveId);
  return takes.update(takeId, (current) => {
    const files = current.files.map((file): TakeFile => {
      if (isDiscard(file)) return { ...file, role: 'take' };
      return file.role === 'take' ? { ...file, role: 'copy' } : file;
    });
    const filePath = partsOf({ files })[0]?.path ?? current.filePath;
    return {
      files,
      filePath,
      fileName: relative(folder, filePath),
      stripes: current.discarded?.stripes ?? null,
      discarded: null,
    };
  });
}
