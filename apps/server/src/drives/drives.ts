import { errorText } from '@mellow/core';
import {
  accessSync,
  constants,
  existsSync,
  mkdirSync,
  realpathSync,
  rmSync,
  statfsSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, isAbsolute, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { eq } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { systemFacts } from '@mellow/engine';
import { driveSchema, mostDriveTests, type Drive, type DriveState, type DriveTest, type NewDrive } from '@mellow/model';
import type { Store } from '../db/openStore';
import { drives } from '../db/schema';
import { problem, ProblemError } from '../errors/problem';
import type { Folders } from '../program/folders';
import type { LiveHub } from '../program/liveHub';

/** The folder that comes and goes with the demo. */
export const demoDriveId = 'demo';

export interface DriveService {
  list(takesBytesOf: (driveId: string) => number): Promise<DriveState[]>;
  /** Bytes a person can still write there; null where the system does not tell. */
  freeBytes(drive: Drive): number | null;
  get(id: string): Promise<Drive>;
  add(body: NewDrive): Promise<Drive>;
  remove(id: string): Promise<void>;
  /** Keeps a test beside the earlier ones; its speed counts from now on. */
  addTest(id: string, test: DriveTest): Promise<void>;
  /** A speed somebody types; null: as the last test found it. */
  typeSpeed(id: string, bytesPerSecond: number | null): Promise<Drive>;
  /** Why a drive cannot be written to now; null when it can. */
  problemOf(drive: Drive): string | null;
  /** The drive takes go to when nothing is said. */
  defaultId(): Promise<string>;
}

/** The folder that takes go to when nobody has chosen one. */
const ownDrive = (folder: string): Drive => ({
  ...{ id: 'footage', name: 'Footage', folder, quotaBytes: null, writeBytesPerSecond: null },
  ...{ mark: null, speedTyped: false, tests: [] },
});

export function createDriveService(store: Store, folders: Folders, live: LiveHub): DriveService {
  const read = async (): Promise<Drive[]> =>
    // A row that cannot be read keeps nobody from the other drives.
    (await store.db.select().from(drives)).flatMap((row) => readDrive(row) ?? []);
  const get = async (id: string): Promise<Drive> => {
    const found = (await read()).find((drive) => drive.id === id);
    if (!found)
      throw problem(
        'not-found',
        `There is no drive "${id}". It may have been removed; choose another one on Path, under Drive.`,
      );
    return found;
  };
  const change = async (id: string, part: Partial<typeof drives.$inferSelect>): Promise<void> => {
    await store.write((db) => db.update(drives).set(part).where(eq(drives.id, id)));
    live.dataChanged();
  };
  return {
    async list(takesBytesOf) {
      return (await read()).map((drive) => driveState(drive, takesBytesOf(drive.id)));
    },
    get,
    async add(body) {
      const folder = checkFolder(body.folder, body.make, folders);
      const others = await read();
      if (others.some((drive) => drive.folder === folder))
        throw problem('bad-request', `${folder} is on the list already.`);
      const id = nanoid(10);
      const { name, quotaBytes } = body;
      const drive: Drive = {
        ...{ id, name, folder, quotaBytes, mark: leaveMark(folder, id) },
        ...{ writeBytesPerSecond: null, speedTyped: false, tests: [] },
      };
      try {
        await store.write((db) => db.insert(drives).values({ ...drive, tests: '[]' }));
      } catch (error) {
        if (drive.mark) rmSync(join(folder, drive.mark), { force: true });
        throw error;
      }
      live.dataChanged();
      return drive;
    },
    async remove(id) {
      const { folder, mark } = await get(id);
      await store.write((db) => db.delete(drives).where(eq(drives.id, id)));
      if (mark) rmSync(join(folder, mark), { force: true });
      live.dataChanged();
    },
    async addTest(id, test) {
      const tests = [...(await get(id)).tests, { ...test, at: new Date().toISOString() }].slice(-mostDriveTests);
      await change(id, {
        writeBytesPerSecond: Math.round(test.bytesPerSecond),
        speedTyped: false,
        tests: JSON.stringify(tests),
      });
    },
    async typeSpeed(id, bytesPerSecond) {
      const last = (await get(id)).tests.at(-1);
      await change(id, {
        writeBytesPerSecond: Math.round(bytesPerSecond ?? last?.bytesPerSecond ?? 0) || null,
        speedTyped: bytesPerSecond !== null,
      });
      return get(id);
    },
    problemOf: folderProblem,
    freeBytes: (drive) => freeIn(drive.folder),
    async defaultId() {
      const all = await read();
      const first = all[0];
      if (first) return first.id;
      const drive = ownDrive(folders.footage);
      await store.write((db) => db.insert(drives).values({ ...drive, tests: '[]' }));
      return drive.id;
    },
  };
}

/** Null where it cannot be read. */
function readDrive(row: typeof drives.$inferSelect): Drive | null {
  try {
    return driveSchema.parse({ ...row, tests: JSON.parse(row.tests) });
  } catch {
    return null;
  }
}

function folderProblem(drive: Drive): string | null {
  try {
    if (!statSync(drive.folder).isDirectory()) return `${drive.folder} is not a folder.`;
    accessSync(drive.folder, constants.W_OK);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'ENOENT') return `${drive.folder} is not there. Plug the drive in or make the folder again.`;
    return `${drive.folder} cannot be written to (${code ?? 'unknown reason'}).`;
  }
  // The folder a drive is mounted on stays when the drive goes; what was put on the drive does not.
  if (drive.mark && !existsSync(join(drive.folder, drive.mark)))
    return `${drive.folder} is there, but the drive is not: what was left on it (${drive.mark}) is missing. Plug it in, or take the folder off the list and add it anew.`;
  return null;
}

/** Leaves an empty file in a folder, by which it is known again; null where even that is refused. */
function leaveMark(folder: string, id: string): string | null {
  const mark = `.mellow-frame-${id}`;
  try {
    writeFileSync(join(folder, mark), '', { flag: 'wx' });
    return mark;
  } catch {
    return null;
  }
}

/** Folders that hold those of everybody: one below them may be a person's, they themselves are nobody's. */
const systemRoots = ['/var', '/home', '/opt', '/srv', '/media', '/mnt'];

/** Where the program itself lies. */
const programFolder = fileURLToPath(new URL('../../../..', import.meta.url));

/** A folder a person names: absolute, with links followed, not inside places of the system or of the program itself. */
function checkFolder(text: string, make: boolean, own: Folders): string {
  if (!isAbsolute(text) || text.includes('\0'))
    throw problem('bad-request', `"${text}" is no complete path. Give the folder from the root of the drive on.`);
  const asked = resolve(text);
  mustBeFree(asked, own);
  try {
    if (!existsSync(asked)) {
      if (!make) throw problem('drive-problem', `${asked} is not there. Make the folder first, or have it made.`);
      // Links on the way are followed before anything is made.
      mustBeFree(join(realpathSync(dirname(asked)), basename(asked)), own);
      mkdirSync(asked);
    }
    const real = realpathSync(asked);
    mustBeFree(real, own);
    if (!statSync(real).isDirectory()) throw new Error('it is a file');
    accessSync(real, constants.W_OK);
    return real;
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw problem(
      'drive-problem',
      `${asked} cannot be used: ${errorText(error)}. Make the folder first, or choose another.`,
    );
  }
}

function mustBeFree(folder: string, own: Folders): void {
  const within = (place: string): boolean => folder === place || isInside(place, folder);
  const ofSystem =
    systemFacts.systemFolders.some(within) && !systemFacts.mountFolders.some((place) => isInside(place, folder));
  if (ofSystem || dirname(folder) === folder || systemRoots.includes(folder))
    throw problem('outside-drives', `${folder} belongs to the system. Takes need a folder of their own.`);
  // The data folder may lie in the program's own, and footage in it.
  const data = resolve(own.data);
  const ownPlaces = [own.takes, own.cache, own.kept, own.demo, join(data, 'hindsight')].map((place) => resolve(place));
  if (folder === data || ownPlaces.some(within) || (within(resolve(programFolder)) && !isInside(data, folder)))
    throw problem('outside-drives', `${folder} belongs to the application itself. Takes need a folder of their own.`);
}

function freeIn(folder: string): number | null {
  try {
    const room = statfsSync(folder);
    return room.bavail * room.bsize;
  } catch {
    return null;
  }
}

function driveState(drive: Drive, takesBytes: number): DriveState {
  const trouble = folderProblem(drive);
  if (trouble)
    return {
      ...drive,
      freeBytes: null,
      totalBytes: null,
      takesBytes,
      kind: 'unknown',
      deviceId: null,
      largestFileBytes: null,
      problem: trouble,
    };
  const room = statfsSync(drive.folder);
  const free = room.bavail * room.bsize;
  if (drive.quotaBytes !== null) {
    return {
      ...drive,
      freeBytes: Math.max(0, Math.min(free, drive.quotaBytes - takesBytes)),
      totalBytes: drive.quotaBytes,
      takesBytes,
      kind: 'stand-in',
      deviceId: systemFacts.physicalDrive(drive.folder),
      largestFileBytes: systemFacts.largestFileBytes(drive.folder),
      problem: null,
    };
  }
  return {
    ...drive,
    freeBytes: free,
    totalBytes: room.blocks * room.bsize,
    takesBytes,
    kind: systemFacts.driveKind(drive.folder),
    deviceId: systemFacts.physicalDrive(drive.folder),
    largestFileBytes: systemFacts.largestFileBytes(drive.folder),
    problem: null,
  };
}

/** Whether a path lies inside a folder. */
export function isInside(folder: string, path: string): boolean {
  const way = relative(folder, resolve(path));
  return way !== '' && !way.startsWith('..') && !isAbsolute(way);
}
