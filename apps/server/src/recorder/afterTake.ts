import { existsSync, readFileSync, rmSync, statSync } from 'node:fs';
import { extname, join } from 'node:path';
import {
  capitalised,
  filedSize,
  measuredPlayCost,
  mp4Trouble,
  needsUnpaced,
  takeName,
  withUnpacedLoad,
  errorText,
} from '@mellow/core';
import { discardPair, ledgerNames } from '@mellow/engine';
import {
  likenessSchema,
  readBackResultSchema,
  rescueResultSchema,
  rewrapResultSchema,
  takeClosingSchema,
  unpacedSchema,
  partsOf,
  type PartFile,
  type ReadBackResult,
  type RescueResult,
  type RewrapInto,
  type Take,
  type TakeClosing,
  type TakeEnd,
  type TakeFile,
  type TakeState,
} from '@mellow/model';
import { problem } from '../http/problem';
import type { AppLog } from '../services/appLog';
import type { DriveService } from '../services/drives';
import type { Folders } from '../services/folders';
import type { JobService } from '../services/jobs';
import type { LiveHub } from '../services/liveHub';
import { withFile } from '../services/ownFiles';
import { replaceByCopy } from '../services/replaceByCopy';
import { partsWrittenDown, readableOf, withParts } from '../services/takeParts';
import type { TakeService } from '../services/takes';
import { builtName } from './stripeOrder';

export interface AfterTakeServices {
  drives: Pick<DriveService, 'list' | 'get'>;
  folders: Folders;
  log: AppLog;
  live: LiveHub;
  takes: TakeService;
  jobs: JobService;
}

export interface AfterTake {
  /** Files that the recorder has begun belong to the take from then on. */
  adoptParts(takeId: string, parts: readonly PartFile[]): Promise<Take>;
  /** Stores that the container is closed, before anything else is done with it. */
  storeClosed(take: Take, closing: TakeClosing): Promise<Take>;
  /** Reads a closed take back. @param ready the reading, where it was made already. @returns whether its picture is readable */
  readBack(take: Take, ready?: ReadBackResult): Promise<boolean>;
  /** Puts what a dead recorder left into a closed file. @returns whether its picture is readable */
  rescue(take: Take, how: TakeEnd, text: string | null, dueHeard: number): Promise<boolean>;
  /** A simulated take is worth nothing unless it is whole: nothing of it is kept. @returns false */
  dropSimulated(take: Take, why: string | null): Promise<boolean>;
  /** The take keeps what it has; why it could not be read, or rescued, stands with it. */
  storeFailure(take: Take, why: string): Promise<void>;
  /** Likeness of the picture, work of an encoder that could not be watched, still, and a plain MP4 where the recipe wants one. */
  finish(take: Take): Promise<void>;
  /** Throws away kept pictures that nobody will compare any more. */
  dropKept(taken: readonly Take[]): void;
  /** Makes a plain MP4, or one file of all parts, beside a take, read back and compared; the take stays as it is. */
  rewrap(takeId: string, into?: RewrapInto): Promise<Take>;
}

/** What the recorder said when it had closed the container; null where it did not come to that, or it cannot be read. */
export function storedClosing(folder: string): TakeClosing | null {
  const path = join(folder, ledgerNames.closing);
  if (!existsSync(path)) return null;
  try {
    return takeClosingSchema.parse(JSON.parse(readFileSync(path, 'utf8')));
  } catch {
    return null;
  }
}

/** The work on a take once its recorder is done with it, each piece a job in a process of its own. */
export function createAfterTake({ drives, folders, log, live, takes, jobs }: AfterTakeServices): AfterTake {
  const name = (take: Take): string => capitalised(takeName(take));

  async function rewrap(takeId: string, into: RewrapInto = 'mp4'): Promise<Take> {
    const take = await takes.get(takeId);
    const path = await takes.file(takeId);
    const from = await takes.readable(takeId);
    const suffix = extname(path);
    const asIs = into === 'as-is';
    if (asIs && !take.stripes)
      throw problem(
        'bad-request',
        'This take is one file, or has parts that are files of their own: nothing is to be built.',
      );
    const noMp4 = into === 'mp4' ? mp4Trouble(take.recipe) : null;
    if (noMp4 !== null) throw problem('bad-request', `${noMp4.text} Nothing was made; the take stays as it is.`);
    const stem = path.slice(0, -suffix.length);
    const joins = partsOf(take).length > 1;
    const ending = asIs ? suffix : `.${into}`;
    const outPath = take.stripes
      ? builtName(path, ending)
      : `${stem}${joins ? ' whole' : suffix === ending ? ' plain' : ''}${ending}`;
    const result = rewrapResultSchema.parse(
      await jobs.run({
        title: `${name(take)}: ${take.stripes ? 'building one file' : joins ? 'joining its parts' : 'making an MP4'}`,
        takeId,
        logFolder: takes.folder(takeId),
        job: { kind: 'rewrap', filePath: from, outPath, rate: take.recipe.rate, asIs },
        async store(made) {
          const { filePath, identity, bytes } = rewrapResultSchema.parse(made);
          const copy: TakeFile = { role: 'copy', path: filePath, identity, bytes };
          await takes.update(takeId, (now) => ({ files: withFile(now, copy) }));
        },
      }),
    );
    log.add(
      'info',
      `${name(take)}: ${joins ? 'one file' : 'an MP4'} with ${result.pictures} pictures was made and read back.`,
      takes.folder(takeId),
    );
    return takes.get(takeId);
  }

  /** A small picture of the take for lists; a take without one is fine. */
  async function still(take: Take): Promise<void> {
    if (!take.facts || !take.filePath) return;
    try {
      await jobs.run({
        title: `${name(take)}: still`,
        takeId: take.id,
        job: {
          kind: 'still',
          filePath: readableOf(take, takes.folder(take.id)),
          outPath: join(takes.folder(take.id), 'still.jpg'),
          atUs: (take.facts.picture.endUs ?? 0) * 0.45,
        },
      });
    } catch (error) {
      log.add('warn', `No still of trial ${take.number}: ${errorText(error)}`, takes.folder(take.id));
    }
  }

  const keptOf = (take: Take): string => join(takes.folder(take.id), ledgerNames.kept);

  /** Holds the file's pictures against what the encoder was given, and throws that away. */
  async function compareKept(take: Take): Promise<void> {
    const keptPath = keptOf(take);
    if (!existsSync(keptPath)) return;
    const { rate } = take.recipe;
    try {
      const { widthPx, heightPx } = filedSize(take.recipe);
      const filePath = readableOf(take, takes.folder(take.id));
      const job = { kind: 'compare-kept' as const, keptPath, filePath, widthPx, heightPx, rate };
      const found = likenessSchema.nullable().parse(
        await jobs.run({
          title: `${name(take)}: measuring the picture`,
          takeId: take.id,
          logFolder: takes.folder(take.id),
          yields: true,
          job: { ...job, fileOffsetUs: take.fileOffsetUs ?? 0 },
        }),
      );
      await takes.update(take.id, { likeness: found });
    } catch (error) {
      log.add('warn', `The picture was not measured: ${errorText(error)}`, takes.folder(take.id));
    } finally {
      rmSync(keptPath, { force: true });
    }
  }

  /** Where the encoder's threads tell nothing of it, its work is measured by encoding frames of the take once more. */
  async function encodeUnpaced(take: Take): Promise<void> {
    if (!needsUnpaced(take)) return;
    try {
      const found = unpacedSchema.parse(
        await jobs.run({
          title: `${name(take)}: measuring the encoder`,
          takeId: take.id,
          logFolder: takes.folder(take.id),
          yields: true,
          job: {
            kind: 'encode-unpaced',
            filePath: readableOf(take, takes.folder(take.id)),
            recipe: take.recipe,
            frames: 120,
            atUs: (take.facts?.picture.endUs ?? 0) * 0.4,
          },
        }),
      );
      await takes.update(take.id, (now) => withUnpacedLoad(now, found));
    } catch (error) {
      log.add('warn', `The encoder was not measured: ${errorText(error)}`, takes.folder(take.id));
    }
  }

  /** Files that were begun belong to the take. */
  async function adoptParts(takeId: string, parts: readonly PartFile[]): Promise<Take> {
    const known = await drives.list(() => 0);
    return takes.update(takeId, (now) => ({ files: withParts(now, parts, known) }));
  }

  return {
    rewrap,
    adoptParts,
    dropKept(taken) {
      for (const take of taken) rmSync(keptOf(take), { force: true });
    },
    async storeClosed(take, closing) {
      if (closing.parts.length) await adoptParts(take.id, closing.parts);
      if (closing.keptStripes.length)
        await takes.update(take.id, (now) => ({ files: [...now.files, ...closing.keptStripes.map(keptStripe)] }));
      return takes.update(take.id, (now) => ({
        state: 'reading-back',
        end: closing.end,
        endText: closing.endText,
        sounds: closing.sounds,
        camera: closing.camera,
        cuts: closing.cuts,
        filePath: closing.filePath,
        files: closing.movedIdentity
          ? withFile(now, { role: 'take', path: closing.filePath, identity: closing.movedIdentity, bytes: null })
          : now.files,
        playCost:
          closing.baseline && closing.recorded
            ? measuredPlayCost(closing.baseline, closing.recorded, closing.pairs)
            : null,
      }));
    },

    async readBack(take, ready) {
      const folder = takes.folder(take.id);
      const closing = storedClosing(folder);
      const { presented, passedOver, notReached } = closing ?? { presented: null, passedOver: null, notReached: null };
      const reading =
        ready ??
        readBackResultSchema.parse(
          await jobs.run({
            title: `${name(take)}: reading the file back`,
            takeId: take.id,
            logFolder: folder,
            // Nothing is lost while it waits: the file is closed.
            yields: true,
            job: {
              kind: 'read-back',
              ledgerFolder: folder,
              filePath: readableOf(await takes.get(take.id), folder),
              interrupted: closing ? !closing.closedWell : false,
              ...{ presented, passedOver, notReached },
            },
          }),
        );
      const state: TakeState = reading.facts ? (take.end === 'drive-gone' ? 'rescued' : 'closed') : 'failed';
      await takes.update(take.id, (now) => ({
        state,
        facts: reading.facts,
        summary: reading.summary,
        tailFrames: reading.tailFrames,
        fileOffsetUs: reading.fileOffsetUs,
        files: now.files.map(withBytesNow),
      }));
      if (take.end !== 'length' && take.end !== 'stopped')
        live.notify('loss', `${name(take)} ended early`, take.endText ?? '', take.id);
      return reading.facts !== null;
    },

    async rescue(take, how, text, dueHeard) {
      const folder = takes.folder(take.id);
      await takes.update(take.id, { state: 'rescuing', end: how });
      discardPair(folder);
      rmSync(keptOf(take), { force: true });
      if (!existsSync(join(folder, ledgerNames.header))) {
        const nothing = `${text ?? ''} It had not begun to write, so nothing is lost.`.trim();
        await takes.giveUpReservation(take.id);
        await takes.update(take.id, { state: 'failed', end: how, endText: nothing, filePath: '' });
        live.notify('loss', `${name(take)} did not begin`, `${text ?? ''} Make the trial again.`.trim(), take.id);
        return false;
      }
      const begun = partsOf(await adoptParts(take.id, partsWrittenDown(folder)));
      const [earlier, last] = [begun.slice(0, -1), begun.at(-1)];
      const found = rescueResultSchema.parse(
        await jobs.run({
          title: `${name(take)}: rescuing`,
          takeId: take.id,
          logFolder: folder,
          job: {
            kind: 'rescue',
            ledgerFolder: folder,
            filePath: last?.path ?? take.filePath,
            identity: last?.identity ?? null,
            earlier: take.stripes ? [] : earlier.map(({ path, startUs }) => ({ path, startUs: startUs ?? 0 })),
            startUs: last?.startUs ?? 0,
            ...(take.stripes
              ? { stripes: { ...take.stripes, files: begun.map(({ path, identity }) => ({ path, identity })) } }
              : {}),
            fallbackFolder: folders.kept,
            dueHeard,
          },
        }),
      );
      const endText = `${text ?? ''} ${found.text}`.trim();
      if (found.away) {
        await takes.update(take.id, { state: 'waiting', end: how, endText });
        live.notify('loss', `${name(take)} waits for its drive`, endText, take.id);
        return false;
      }
      const { filePath } = found;
      await takes.update(take.id, (now) => ({
        state: found.facts ? 'rescued' : 'failed',
        end: how,
        endText,
        facts: found.facts,
        summary: found.summary,
        tailFrames: found.tailFrames,
        fileOffsetUs: found.fileOffsetUs,
        filePath: earlier[0]?.path ?? filePath,
        files: take.stripes ? now.files.map(withBytesNow) : filesAfterRescue(now, found, last),
      }));
      const keptS = ((found.facts?.picture.endUs ?? 0) / 1e6).toFixed(2);
      const lostS = (found.lostUs / 1e6).toFixed(2);
      const words = found.facts ? `${keptS} s were rescued, ${lostS} s are lost.` : found.text;
      const title = `${name(take)}: ${found.facts ? 'rescued' : 'nothing could be read'}`;
      live.notify('loss', title, `${text ?? ''} ${words} The next trial can be made at once.`.trim(), take.id);
      return found.facts !== null;
    },

    async dropSimulated(take, why) {
      await takes.giveUpFiles(take.id);
      const endText = why ?? 'The simulated take was interrupted; nothing of it is kept.';
      await takes.update(take.id, { state: 'failed', end: 'error', endText, filePath: '', files: [] });
      live.notify('loss', `${name(take)} was not made`, endText, take.id);
      return false;
    },

    async storeFailure(take, why) {
      const now = await takes.get(take.id);
      const closed = now.state === 'reading-back';
      const endText = closed
        ? `The file is closed and whole, but it could not be read back: ${why} Read it back again on its page.`
        : `It could not be rescued: ${why} Nothing was changed; it is tried again at the next start, or on its page.`;
      await takes.update(take.id, { state: 'waiting', endText });
      live.notify('loss', `${name(take)} ${closed ? 'is not read back' : 'is not rescued'}`, endText, take.id);
    },

    async finish(take) {
      const now = await takes.get(take.id);
      await compareKept(now);
      await encodeUnpaced(now);
      await still(now);
      if (!now.recipe.rewrap || now.state !== 'closed') return;
      try {
        await rewrap(now.id);
      } catch (error) {
        const text = `The copy after stopping failed: ${errorText(error)} The take itself is safe.`;
        return live.notify('loss', `${name(take)}: no MP4`, text, take.id);
      }
      if (!now.recipe.discardSource) return;
      await replaceByCopy({ drives, takes, jobs }, now.id).catch((error: unknown) =>
        live.notify('loss', `${name(take)} keeps its file`, errorText(error), take.id),
      );
    },
  };
}

function withBytesNow(file: TakeFile): TakeFile {
  return file.role === 'take' ? { ...file, bytes: bytesNow(file) } : file;
}

function keptStripe({ stripe, path, identity }: TakeClosing['keptStripes'][number]): TakeFile {
  return {
    ...{ role: 'take' as const, path, identity, bytes: null },
    stripe,
  };
}

function bytesNow({ path, bytes }: TakeFile): number | null {
  return statSync(path, { throwIfNoEntry: false })?.size ?? bytes;
}

/** The file that was open is replaced by its closed copy, which may lie elsewhere. */
function filesAfterRescue(
  { files }: Take,
  { filePath, identity, openPath, emptyLast }: RescueResult,
  last: TakeFile | undefined,
): TakeFile[] {
  const others = files.map((file) => (file.path === openPath ? { ...file, role: 'open' as const } : file));
  if (!filePath) return others;
  const closed = { ...last, role: emptyLast ? ('open' as const) : ('take' as const), path: filePath, identity };
  return withFile({ files: others }, { ...closed, bytes: bytesNow({ ...closed, bytes: null }) });
}
