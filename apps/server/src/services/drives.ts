import {
  accessSync,
  constants,
  existsSync,
  mkdirSync,
  readFileSync,
  realpathSync,
  statfsSync,
  statSync,
} from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve } from 'node:path';
import { eq } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { driveSchema, type Drive, type DriveState, type NewDrive } from '@mellow/model';
import type { Store } from '../db/openStore';
import { drives } from '../db/schema';
import { problem } from '../http/problem';
import type { Folders } from './folders';
import type { LiveHub } from './liveHub';

export interface DriveService {
  list(takesBytesOf: (driveId: string) => number): Promise<DriveState[]>;
  get(id: string): Promise<Drive>;
  add(body: NewDrive): Promise<Drive>;
  remove(id: string): Promise<void>;
  setSpeed(id: string, bytesPerSecond: number): Promise<void>;
  /** Why a drive cannot be written to now; null when it can. */
  problemOf(drive: Drive): string | null;
  /** The drive takes go to when nothing is said. */
  defaultId(): Promise<string>;
}

export function createDriveService(store: Store, folders: Folders, live: LiveHub): DriveService {
  const read = async (): Promise<Drive[]> =>
    (await store.db.select().from(drives)).map((row) => driveSchema.parse(row));
  const get = async (id: string): Promise<Drive> => {
    const found = (await read()).find((drive) => drive.id === id);
    if (!found)
      throw problem(
        'not-found',
        `There is no drive "${id}". It may have been removed; choose another one on Path, under Drive.`,
      );
    return found;
  };
  return {
    async list(takesBytesOf) {
      return (await read()).map((drive) => driveState(drive, takesBytesOf(drive.id)));
    },
    get,
    async add(body) {
      const folder = checkFolder(body.folder);
      const others = await read();
      if (others.some((drive) => drive.folder === folder))
        throw problem('bad-request', `${folder} is on the list already.`);
      const drive: Drive = {
        id: nanoid(10),
        name: body.name,
        folder,
        quotaBytes: body.quotaBytes,
        writeBytesPerSecond: null,
      };
      await store.write((db) => db.insert(drives).values(drive));
      live.dataChanged();
      return drive;
    },
    async remove(id) {
      await get(id);
      await store.write((db) => db.delete(drives).where(eq(drives.id, id)));
      live.dataChanged();
    },
    async setSpeed(id, bytesPerSecond) {
      await store.write((db) =>
        db
          .update(drives)
          .set({ writeBytesPerSecond: Math.round(bytesPerSecond) })
          .where(eq(drives.id, id)),
      );
      live.dataChanged();
    },
    problemOf: folderProblem,
    async defaultId() {
      const all = await read();
      const first = all[0];
      if (first) return first.id;
      const drive: Drive = {
        id: 'footage',
        name: 'Footage',
        folder: folders.footage,
        quotaBytes: null,
        writeBytesPerSecond: null,
      };
      await store.write((db) => db.insert(drives).values(drive));
      return drive.id;
    },
  };
}

function folderProblem(drive: Drive): string | null {
  try {
    if (!statSync(drive.folder).isDirectory()) return `${drive.folder} is not a folder.`;
    accessSync(drive.folder, constants.W_OK);
    return null;
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'ENOENT') return `${drive.folder} is not there. Plug the drive in or make the folder again.`;
    return `${drive.folder} cannot be written to (${code ?? 'unknown reason'}).`;
  }
}

/** A folder a person names: absolute, made if its parent exists, not inside system places. */
function checkFolder(text: string): string {
  if (!isAbsolute(text) || text.includes('\0'))
    throw problem('bad-request', `"${text}" is no complete path. Give the folder from the root of the drive on.`);
  const folder = resolve(text);
  const system = ['/proc', '/sys', '/dev', '/etc', '/boot', '/bin', '/usr', '/lib'];
  if (folder === '/' || system.some((place) => folder === place || folder.startsWith(`${place}/`))) {
    throw problem('outside-drives', `${folder} belongs to the system. Takes need a folder of their own.`);
  }
  try {
    if (!existsSync(folder)) mkdirSync(folder);
    if (!statSync(folder).isDirectory()) throw new Error('it is a file');
    accessSync(folder, constants.W_OK);
  } catch (error) {
    throw problem(
      'drive-problem',
      `${folder} cannot be used: ${error instanceof Error ? error.message : String(error)}. Make the folder first, or choose another.`,
    );
  }
  return realpathSync(folder);
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
      deviceId: deviceOf(drive.folder),
      problem: null,
    };
  }
  return {
    ...drive,
    freeBytes: free,
    totalBytes: room.blocks * room.bsize,
    takesBytes,
    kind: kindOf(drive.folder),
    deviceId: deviceOf(drive.folder),
    problem: null,
  };
}

/** The physical drive a folder lies on, so that partitions of one drive are known as such; null where the system does not tell. */
function deviceOf(folder: string): string | null {
  try {
    const device = statSync(folder).dev;
    const real = realpathSync(`/sys/dev/block/${device >> 8}:${device & 255}`);
    // A partition lies in the folder of its drive.
    return existsSync(join(real, 'partition')) ? dirname(real) : real;
  } catch {
    return null;
  }
}

/** File systems that lie on another computer (statfs magic numbers of Linux: NFS, SMB, CIFS, 9P; from memory). */
const networkTypes = new Set([0x6969, 0x517b, 0xff534d42, 0xfe534d42, 0x01021997]);

/** Solid state or hard disk, from the system's block device; virtual disks claim to rotate, so they stay unknown. */
function kindOf(folder: string): DriveState['kind'] {
  try {
    if (networkTypes.has(statfsSync(folder).type)) return 'network';
    const device = statSync(folder).dev;
    const base = `/sys/dev/block/${device >> 8}:${device & 255}`;
    const real = realpathSync(base);
    if (/\/virtual\/|\/virtio|\/vd[a-z]/.test(real)) return 'unknown';
    const queue = [join(real, 'queue/rotational'), join(real, '../queue/rotational')].find(existsSync);
    if (!queue) return 'unknown';
    return readFileSync(queue, 'utf8').trim() === '0' ? 'solid state' : 'hard disk';
  } catch {
    return 'unknown';
  }
}

/** Whether a path lies inside a folder. */
export function isInside(folder: string, path: string): boolean {
  const way = relative(folder, resolve(path));
  return way !== '' && !way.startsWith('..') && !isAbsolute(way);
}
