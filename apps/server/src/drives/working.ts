import { existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Drive, WorkingPlace } from '@mellow/model';
import type { Store } from '../db/openStore';
import { readSetting, writeSetting } from '../db/setting';
import { problem } from '../errors/problem';
import { demoDriveId, type DriveService } from './drives';
import type { Folders } from '../program/folders';
import type { LiveHub } from '../program/liveHub';

/** The folder for what is only made in between: one of the list, or none of its own. */
export interface WorkingService {
  state(): Promise<WorkingPlace>;
  /**
   * Another folder from now on; copies for playing in the earlier one are removed. Asked for beside no take, which may hold
   * something there. @throws a problem while something is held
   */
  set(driveId: string | null): Promise<WorkingPlace>;
  /** Removes the copies for playing; those of takes that are worked on stay. */
  emptyCopies(): Promise<WorkingPlace>;
  /** Where held minutes wait that a setup wants on a drive. */
  driveFor(ofTakes: Drive): Drive;
  /** Where copies for playing lie, a folder for each take. */
  copiesFolder(): string;
  /** Why nothing can be put there now; null when it can, and where there is none of its own. */
  trouble(): string | null;
  /** Removes copies whose take was deleted while the folder was away. */
  prune(takeIds: ReadonlySet<string>): void;
}

export interface WorkingServices {
  store: Store;
  drives: Pick<DriveService, 'get' | 'problemOf'>;
  folders: Pick<Folders, 'cache'>;
  live: Pick<LiveHub, 'state' | 'dataChanged'>;
}

const key = 'working-drive';
/** Copies lie in a folder of this name; nothing else of the drive is touched. */
const copiesFolderName = '.copies';

export async function openWorking({ store, drives, folders, live }: WorkingServices): Promise<WorkingService> {
  const stored = await readSetting(store, key);
  let chosen: Drive | null = stored === null ? null : await drives.get(stored).catch(() => null);

  const copiesFolder = (): string => (chosen ? join(chosen.folder, copiesFolderName) : folders.cache);
  const trouble = (): string | null => {
    const why = chosen && drives.problemOf(chosen);
    return why && `The working folder cannot be used: ${why}`;
  };
  /** Takes of which something lies there; none where the folder is away, whatever lies in its place. */
  const copied = (): string[] => (trouble() || !existsSync(copiesFolder()) ? [] : readdirSync(copiesFolder()));

  function removeCopies(wanted: (takeId: string) => boolean): void {
    const busy = new Set(live.state().jobs.map(({ takeId }) => takeId));
    for (const takeId of copied())
      if (wanted(takeId) && !busy.has(takeId)) rmSync(join(copiesFolder(), takeId), { recursive: true, force: true });
  }

  async function state(): Promise<WorkingPlace> {
    const sizes = copied().flatMap((takeId) => fileSizes(join(copiesFolder(), takeId)));
    return {
      driveId: chosen?.id ?? null,
      copies: sizes.length,
      copiesBytes: sizes.reduce((sum, bytes) => sum + bytes, 0),
      problem: trouble(),
    };
  }

  return {
    state,
    async set(driveId) {
      if (driveId === demoDriveId)
        throw problem('bad-request', 'This folder goes with the demo. Choose another one, or add one.');
      const next = driveId === null ? null : await drives.get(driveId);
      const why = next && drives.problemOf(next);
      if (why) throw problem('drive-problem', `${why} The working folder is the one it was.`);
      const { watching } = live.state();
      if (watching !== null && watching.state !== 'failed')
        throw problem(
          'recorder-busy',
          'Something is held now, and it may wait there. Let it go, then choose another working folder.',
        );
      await writeSetting(store, key, driveId);
      removeCopies(() => true);
      chosen = next;
      live.dataChanged();
      return state();
    },
    async emptyCopies() {
      removeCopies(() => true);
      live.dataChanged();
      return state();
    },
    driveFor: (ofTakes) => chosen ?? ofTakes,
    copiesFolder,
    trouble,
    prune: (takeIds) => removeCopies((takeId) => !takeIds.has(takeId)),
  };
}

/** Sizes of the files in a folder; none of what goes meanwhile. */
function fileSizes(folder: string): number[] {
  try {
    return readdirSync(folder).map((name) => statSync(join(folder, name)).size);
  } catch {
    return [];
  }
}
