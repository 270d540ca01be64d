import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { measuredPlayCost } from '@mellow/core';
import { ledgerNames } from '@mellow/engine';
import {
  readBackResultSchema,
  takeClosingSchema,
  type PartFile,
  type ReadBackResult,
  type Take,
  type TakeClosing,
  type TakeFile,
  type TakeState,
} from '@mellow/model';
import { withFile } from '../files/ownFiles';
import { readableOf, withParts } from '../takes/takeParts';
import { nameOf, type AfterTakeServices } from './afterTakeServices';

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

export const bytesNow = ({ path, bytes }: Pick<TakeFile, 'path' | 'bytes'>): number | null =>
  statSync(path, { throwIfNoEntry: false })?.size ?? bytes;

/** A take's own file with the bytes it has now. */
export const withBytesNow = (file: TakeFile): TakeFile =>
  file.role === 'take' ? { ...file, bytes: bytesNow(file) } : file;

/** Files that were begun belong to the take. */
export async function adoptParts(
  { drives, takes }: Pick<AfterTakeServices, 'drives' | 'takes'>,
  takeId: string,
  parts: readonly PartFile[],
): Promise<Take> {
  const known = await drives.list(() => 0);
  return takes.update(takeId, (now) => ({ files: withParts(now, parts, known) }));
}

const keptStripe = ({ stripe, path, identity }: TakeClosing['keptStripes'][number]): TakeFile => ({
  ...{ role: 'take', path, identity, bytes: null, stripe },
});

/** Stores that the container is closed, before anything else is done with it. */
export async function storeClosed(
  services: Pick<AfterTakeServices, 'drives' | 'takes'>,
  take: Take,
  closing: TakeClosing,
): Promise<Take> {
  const { takes } = services;
  if (closing.parts.length) await adoptParts(services, take.id, closing.parts);
  if (closing.keptStripes.length)
    await takes.update(take.id, (now) => ({ files: [...now.files, ...closing.keptStripes.map(keptStripe)] }));
  const { end, endText, sounds, camera, cuts, sampleLeftOut, filePath, movedIdentity, baseline, recorded, pairs } =
    closing;
  return takes.update(take.id, (now) => ({
    ...{ state: 'reading-back', end, endText, sounds, camera, cuts, sampleLeftOut, filePath },
    files: movedIdentity
      ? withFile(now, { role: 'take', path: filePath, identity: movedIdentity, bytes: null })
      : now.files,
    playCost: baseline && recorded ? measuredPlayCost(baseline, recorded, pairs) : null,
  }));
}

/**
 * Reads a closed take back.
 * @param ready the reading, where it was made already
 * @returns whether its picture is readable
 */
export async function readTakeBack(
  services: Pick<AfterTakeServices, 'takes' | 'jobs' | 'live'>,
  take: Take,
  ready?: ReadBackResult,
): Promise<boolean> {
  const reading = ready ?? (await readingOf(services, take));
  const state: TakeState = reading.facts ? (take.end === 'drive-gone' ? 'rescued' : 'closed') : 'failed';
  const { facts, summary, tailFrames, fileOffsetUs } = reading;
  await services.takes.update(take.id, (now) => ({
    ...{ state, facts, summary, tailFrames, fileOffsetUs },
    files: now.files.map(withBytesNow),
  }));
  if (take.end !== 'length' && take.end !== 'stopped')
    services.live.notify('loss', `${nameOf(take)} ended early`, take.endText ?? '', take.id);
  return facts !== null;
}

async function readingOf({ takes, jobs }: Pick<AfterTakeServices, 'takes' | 'jobs'>, take: Take) {
  const folder = takes.folder(take.id);
  const closing = storedClosing(folder);
  const { presented, passedOver, notReached } = closing ?? { presented: null, passedOver: null, notReached: null };
  return readBackResultSchema.parse(
    await jobs.run({
      title: `${nameOf(take)}: reading the file back`,
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
}
