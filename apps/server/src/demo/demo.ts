import {
  copyFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmdirSync,
  statSync,
} from 'node:fs';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { eq } from 'drizzle-orm';
import { identityOfPath, temporaryBeside } from '@mellow/engine';
import { demoManifestSchema, type DemoManifest, type DemoState, type Take } from '@mellow/model';
import type { Store } from '../db/openStore';
import { drives } from '../db/schema';
import { readSetting, writeSetting } from '../db/setting';
import type { AppLog } from '../program/appLog';
import { demoDriveId } from '../drives/drives';
import type { Folders } from '../program/folders';
import type { LiveHub } from '../program/liveHub';
import { thisMachineId, type MachineService } from '../machine/machines';
import type { SetupService } from '../setups/setups';
import type { TakeService } from '../takes/takes';

/** The demo that ships with the application: recorded by the real code on the PC it was made on. */
export const demoFolder = fileURLToPath(new URL('../../../../demo/takes', import.meta.url));

export interface DemoService {
  /** Brings the demo in once, unless it was removed or is unwanted. */
  bringIn(): Promise<void>;
  state(): Promise<DemoState>;
  remove(): Promise<void>;
}

export const readDemoManifest = (): DemoManifest | null => {
  const file = join(demoFolder, 'manifest.json');
  return existsSync(file) ? demoManifestSchema.parse(JSON.parse(readFileSync(file, 'utf8'))) : null;
};

export function createDemoService(
  store: Store,
  folders: Folders,
  setups: SetupService,
  takes: TakeService,
  machines: MachineService,
  live: LiveHub,
  log: AppLog,
): DemoService {
  const setting = () => readSetting(store, 'demo');
  const setSetting = (value: string) => writeSetting(store, 'demo', value);
  return {
    async bringIn() {
      const manifest = readDemoManifest();
      const known = await setting();
      if (!manifest || known === 'present' || known === 'removed') return;
      // "coming" until the last piece is there: an import that was cut off goes on where it was.
      await setSetting('coming');
      const media = join(folders.demo, 'media');
      mkdirSync(media, { recursive: true });
      const drive = { id: demoDriveId, name: 'Demo', folder: media, quotaBytes: null, writeBytesPerSecond: null };
      await store.write((db) => db.insert(drives).values(drive).onConflictDoNothing());
      await machines.bringInDemo();
      const there = new Set((await setups.list()).map((setup) => setup.id));
      for (const setup of manifest.setups) if (!there.has(setup.id)) await setups.bringIn(setup);
      const takesThere = new Set((await takes.list()).map((take) => take.id));
      for (const take of manifest.takes)
        if (!takesThere.has(take.id))
          await bringInTake(takes, take, join(demoFolder, take.id), join(media, basename(take.filePath)));
      await setSetting('present');
      log.add('info', `The demo was brought in: ${manifest.setups.length} setups, ${manifest.takes.length} trials.`);
    },
    async state() {
      const manifest = readDemoManifest();
      const present = (await setting()) === 'present';
      const own = present ? (await setups.list()).filter((s) => s.demo) : [];
      const all = present ? (await takes.list()).filter((t) => t.demo) : [];
      return {
        present,
        madeOn: manifest ? `${manifest.madeOn.processor}, ${manifest.madeOn.cores} cores` : null,
        setups: own.length,
        takes: all.length,
      };
    },
    async remove() {
      for (const setup of (await setups.list()).filter((s) => s.demo)) {
        // Trials made here in a demo setup go with it; the page says so before.
        for (const take of await takes.list(setup.id)) await takes.remove(take.id);
        await setups.remove(setup.id);
      }
      for (const setup of (await setups.list()).filter((s) => s.machineId !== thisMachineId))
        await setups.change(setup.id, { machineId: thisMachineId });
      await machines.removeDemo();
      await setSetting('removed');
      const foreign = (await takes.list()).some((take) =>
        take.files.some(({ driveId = take.driveId }) => driveId === demoDriveId),
      );
      if (!foreign) await store.write((db) => db.delete(drives).where(eq(drives.id, demoDriveId)));
      // Files of the demo went with its takes. What else lies there is somebody's, and keeps its folder.
      const left = removeEmpty(folders.demo);
      live.dataChanged();
      log.add(
        'info',
        left.length
          ? `The demo was removed. This is not the demo’s and was left: ${left.join(', ')}.`
          : 'The demo was removed.',
      );
    },
  };
}

/** Removes a folder and those below it as far as they are empty. @returns the files that keep some of them */
function removeEmpty(folder: string): string[] {
  if (!existsSync(folder)) return [];
  const left = readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? removeEmpty(path) : [path];
  });
  if (!left.length) rmdirSync(folder);
  return left;
}

/**
 * Brings a finished take in with its ledger: the files are copied to their places, then the take is stored.
 * @param from folder with the ledger and, under its own name, the media file
 */
export async function bringInTake(takes: TakeService, take: Take, from: string, mediaPath: string): Promise<void> {
  const target = takes.folder(take.id);
  mkdirSync(target, { recursive: true });
  const media = basename(take.filePath);
  cpSync(from, target, { recursive: true, filter: (path) => basename(path) !== media });
  // Under a temporary name first: a copy that was cut off is made again.
  const temporary = temporaryBeside(mediaPath);
  copyFileSync(join(from, media), temporary);
  renameSync(temporary, mediaPath);
  const file = {
    role: 'take' as const,
    path: mediaPath,
    identity: identityOfPath(mediaPath),
    bytes: statSync(mediaPath).size,
  };
  await takes.insert({ ...take, filePath: mediaPath, fileName: media, files: [file] });
}
