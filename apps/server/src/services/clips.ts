import { existsSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { capitalised, hindsightWords, takeName, errorText } from '@mellow/core';
import {
  answersAt,
  heldOwner,
  heldRecipe,
  removeOwn,
  reserveNoted,
  wasLetGo,
  whatLiesAt,
  writeDurably,
  type Reservation,
} from '@mellow/engine';
import {
  fileIdentitySchema,
  mediaFactsSchema,
  takeSchema,
  type Drive,
  type KeepOrder,
  type Kept,
  type Setup,
  type Take,
} from '@mellow/model';
import { nanoid } from 'nanoid';
import { z } from 'zod';
import { problem } from '../http/problem';
import { heldFolderName, watchOfFolder } from '../recorder/heldBeside';
import type { AppLog } from './appLog';
import type { DriveService } from './drives';
import type { JobService } from './jobs';
import type { Journals } from './journals';
import type { LiveHub } from './liveHub';
import type { MachineService } from './machines';
import { newTrial } from './newTrial';
import type { SetupService } from './setups';
import type { TakeService } from './takes';

/** What a clip is cut from. */
export interface ClipOrigin {
  setupId: string;
  from: Pick<Take, 'game' | 'recipe' | 'source'>;
  driveId: string;
  /** Most that can be kept. */
  lengthS: number;
  keep(order: KeepOrder): Promise<Kept>;
}

/** Clips: parts of what was held, kept as files of their own that stand among the takes. */
export interface ClipService {
  /** Keeps the last seconds. @throws a problem in words; nothing is left behind then */
  keep(origin: ClipOrigin, lastS: number | null): Promise<Take>;
  /** Makes a clip of pieces that a recorder left on the drive when it died, and removes them. @returns null where nothing was there */
  gather(setupId: string, driveId: string, folder: string): Promise<Take | null>;
  /** After a death of everything: whatever was held on any drive becomes clips, each told once. */
  gatherAll(): Promise<void>;
}

export interface ClipServices {
  takes: TakeService;
  setups: SetupService;
  machines: MachineService;
  drives: DriveService;
  jobs: JobService;
  live: LiveHub;
  log: AppLog;
  journals: Journals;
  /** Where clips that are being written stand. */
  pendingFolder: string;
}

const pendingSuffix = '.clip.json';
const pendingSchema = z.object({
  take: takeSchema,
  driveId: z.string(),
  reserved: z.object({ path: z.string(), identity: fileIdentitySchema }),
  askedS: z.number(),
});
const gatheredSchema = z.object({ lengthUs: z.number(), bytes: z.number() });

export function createClipService({
  takes,
  setups,
  machines,
  drives,
  jobs,
  live,
  log,
  journals,
  pendingFolder,
}: ClipServices): ClipService {
  const startedMs = Date.now();
  async function planned(
    origin: Pick<ClipOrigin, 'setupId' | 'from' | 'driveId'>,
  ): Promise<{ take: Take; drive: Drive }> {
    const setup = await setups.get(origin.setupId);
    const drive = await drives.get(origin.driveId);
    const now = new Date();
    const { game, recipe, source } = origin.from;
    const take = newTrial({
      ...{ id: nanoid(12), kind: 'clip', setup, drive, now, prediction: null, lengthS: null },
      ...{ game, recipe, source, clock: 'real' },
      version: lastVersion(setup),
      number: await takes.nextNumber(setup.id),
      machine: await machines.get('this'),
    });
    return { take, drive };
  }

  /** The row comes when the file is whole: whatever dies before leaves no take without a file. */
  async function insert(
    take: Take,
    reserved: Reservation,
    drive: Drive,
    kept: { bytes: number; askedS: number },
  ): Promise<void> {
    const file = { role: 'take' as const, path: reserved.path, identity: reserved.identity, bytes: kept.bytes };
    await takes.insert({
      ...take,
      state: 'closed',
      end: 'stopped',
      lengthS: kept.askedS,
      filePath: reserved.path,
      fileName: reserved.path.slice(join(drive.folder, '/').length),
      files: [file],
    });
  }

  /** Reads a clip that is a take by now back, and makes its still. */
  async function finish(take: Take, reserved: Reservation): Promise<Take> {
    const name = capitalised(takeName(take));
    const job = { kind: 'facts' as const, filePath: reserved.path };
    const facts = mediaFactsSchema.parse(
      await jobs.run({ title: `${name}: reading the file back`, takeId: take.id, job }),
    );
    const stored = await takes.update(take.id, { facts });
    await jobs
      .run({
        title: `${name}: still`,
        takeId: take.id,
        job: {
          kind: 'still',
          filePath: reserved.path,
          outPath: join(takes.folder(take.id), 'still.jpg'),
          atUs: (facts.picture.endUs ?? 0) * 0.45,
        },
      })
      .catch((error: unknown) => log.add('warn', `No still of ${takeName(take)}: ${errorText(error)}`));
    live.dataChanged();
    return stored;
  }

  /** A clip that is being written is somebody's from its first byte on. @returns takes the note away when it is stored */
  function note(pending: z.infer<typeof pendingSchema>): () => void {
    const path = join(pendingFolder, `${pending.take.id}${pendingSuffix}`);
    writeDurably(path, JSON.stringify(pending));
    return () => rmSync(path, { force: true });
  }

  /** Clips that were being written, or read back, when the application ended. */
  async function takeUp(path: string): Promise<void> {
    const { take, driveId, reserved, askedS } = pendingSchema.parse(JSON.parse(readFileSync(path, 'utf8')));
    const drive = await drives.get(driveId);
    const there = whatLiesAt(reserved.path, reserved.identity) === 'same';
    // A drive that is away is waited for.
    if (!there && drives.problemOf(drive)) return;
    const facts = there
      ? await jobs.run({ title: 'Reading a clip back', job: { kind: 'facts', filePath: reserved.path } }).then(
          (found) => mediaFactsSchema.parse(found),
          () => null,
        )
      : null;
    if (facts?.picture.packets) {
      const known = await takes.get(take.id).catch(() => null);
      if (known) await takes.update(take.id, { facts });
      else {
        await insert(take, reserved, drive, { bytes: facts.bytes, askedS });
        await finish(take, reserved);
        live.notify(
          'note',
          `${capitalised(takeName(take))} is there`,
          'It was being written when the application ended, and is as long as what had reached the drive.',
          take.id,
        );
      }
    } else if (there) {
      removeOwn(reserved);
      log.add(
        'warn',
        `A clip at ${reserved.path} had not come to a whole picture when the application ended; it is gone.`,
      );
    }
    rmSync(path, { force: true });
  }

  async function gather(setupId: string, driveId: string, folder: string): Promise<Take | null> {
    if (!existsSync(folder)) return null;
    const { game } = await setups.get(setupId);
    const recipe = heldRecipe(folder);
    // The pieces may have waited in a working folder: the clip goes where the takes go.
    const wanted = await drives.get(recipe.driveId).catch(() => null);
    const { take, drive } = await planned({
      ...{ setupId, from: { game, recipe, source: recipe.source } },
      driveId: wanted && !drives.problemOf(wanted) ? wanted.id : driveId,
    });
    const journal = journals.open();
    const reserved = reserveNoted(take.filePath, journal.note);
    // Until it is stored, the pieces are there to make it of again.
    journal.note({ step: 'remade', ...reserved });
    const job = { kind: 'gather-hindsight' as const, folder, outPath: reserved.path, identity: reserved.identity };
    const kept = gatheredSchema.parse(
      await jobs.run({
        title: 'Bringing together what was held',
        job,
        journal,
        async store(made) {
          const { lengthUs, bytes } = gatheredSchema.parse(made);
          await insert(take, reserved, drive, { bytes, askedS: lengthUs / 1e6 });
        },
      }),
    );
    // From here on the clip is somebody's take: whatever fails, its file stays, and so do the pieces.
    const stored = await finish(take, reserved);
    rmSync(folder, { recursive: true, force: true });
    live.notify(
      'note',
      'What was held is there',
      `The recorder had ended without a word. ${hindsightWords(kept.lengthUs / 1e6)} of what it held are ${takeName(take)} now.`,
      take.id,
    );
    return stored;
  }

  return {
    async keep(origin, lastS) {
      const { take, drive } = await planned(origin);
      const trouble = drives.problemOf(drive);
      if (trouble) throw problem('drive-problem', `${trouble} Nothing was kept.`);
      const wantedS = Math.min(lastS ?? origin.lengthS, origin.lengthS);
      const { reserved, done } = await journals.storing(async (noteStep) => {
        const file = reserveNoted(take.filePath, noteStep);
        return { reserved: file, done: note({ take, driveId: drive.id, reserved: file, askedS: wantedS }) };
      });
      const kept = await origin.keep({ id: take.id, lastS: wantedS, ...reserved }).catch((error: unknown) => {
        removeOwn(reserved);
        done();
        throw error;
      });
      if (!kept.ok) {
        removeOwn(reserved);
        done();
        throw problem('job-failed', `Nothing was kept: ${kept.why}`);
      }
      await insert(take, reserved, drive, { bytes: kept.bytes, askedS: wantedS });
      const stored = await finish(take, reserved);
      done();
      live.notify(
        'note',
        `The last ${hindsightWords(kept.lengthUs / 1e6)} are kept`,
        `${capitalised(takeName(take))} lies beside the takes${live.state().take ? '; what rolls goes on' : ''}.`,
        take.id,
      );
      return stored;
    },
    gather,
    async gatherAll() {
      for (const name of readdirSync(pendingFolder).filter((one) => one.endsWith(pendingSuffix)))
        await takeUp(join(pendingFolder, name)).catch((error: unknown) =>
          log.add('error', `A clip that was being written could not be looked after: ${errorText(error)}`),
        );
      for (const drive of await drives.list(() => 0)) {
        const base = join(drive.folder, heldFolderName);
        if (!existsSync(base)) continue;
        for (const name of readdirSync(base)) {
          const folder = join(base, name);
          const watch = watchOfFolder(name);
          // Somebody writes into it: this program, or another one with a list of drives of its own.
          if (watch ? watch.beganMs >= startedMs : live.state().take?.takeId === name) continue;
          if (await answersAt(heldOwner(folder))) continue;
          if (wasLetGo(folder)) {
            rmSync(folder, { recursive: true, force: true });
            continue;
          }
          try {
            // What a take held stands in the take itself, which is rescued.
            if (watch) await gather(watch.setupId, drive.id, folder);
            else rmSync(folder, { recursive: true, force: true });
          } catch (error) {
            log.add('error', `What was held in ${folder} could not be brought together: ${errorText(error)}`);
          }
        }
      }
    },
  };
}

/** The recipe's number, where it has one by now. */
function lastVersion(setup: Setup) {
  return (
    setup.versions.findLast((version) => JSON.stringify(version.recipe) === JSON.stringify(setup.draft)) ??
    setup.versions.at(-1) ?? { number: 1, recipe: setup.draft, createdAt: setup.createdAt }
  );
}
