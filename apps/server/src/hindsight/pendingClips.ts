import { readFileSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { capitalised, errorText, takeName } from '@mellow/core';
import { JobRefusedError, removeOwn, whatLiesAt, writeDurably } from '@mellow/engine';
import { fileIdentitySchema, mediaFactsSchema, takeSchema, type MediaFacts } from '@mellow/model';
import { z } from 'zod';
import { finishClip, insertClip, type ClipServices } from './clip';

const pendingSuffix = '.clip.json';
const pendingSchema = z.object({
  take: takeSchema,
  driveId: z.string(),
  reserved: z.object({ path: z.string(), identity: fileIdentitySchema }),
  askedS: z.number(),
});
/** A clip that is being written is somebody's from its first byte on. @returns takes the note away when it is stored */
export function notePending(pendingFolder: string, pending: z.infer<typeof pendingSchema>): () => void {
  const path = join(pendingFolder, `${pending.take.id}${pendingSuffix}`);
  writeDurably(path, JSON.stringify(pending));
  return () => rmSync(path, { force: true });
}

/** Looks after clips that were being written, or read back, when the application ended. */
export async function takeUpPending(services: ClipServices): Promise<void> {
  const { pendingFolder, log, takes } = services;
  for (const name of readdirSync(pendingFolder).filter((one) => one.endsWith(pendingSuffix)))
    await takeUp(services, join(pendingFolder, name)).catch((error: unknown) =>
      log.add('error', `A clip that was being written could not be looked after: ${errorText(error)}`),
    );
  for (const take of await takes.list()) {
    const [file] = take.files;
    if (take.kind !== 'clip' || take.state !== 'reading-back' || !file?.identity) continue;
    await finishClip(services, take, { path: file.path, identity: file.identity }).catch((error: unknown) =>
      log.add('error', `${capitalised(takeName(take))} could not be read back: ${errorText(error)}`),
    );
  }
}

async function takeUp(services: ClipServices, path: string): Promise<void> {
  const { drives, takes, live, log } = services;
  const { take, driveId, reserved, askedS } = pendingSchema.parse(JSON.parse(readFileSync(path, 'utf8')));
  const drive = await drives.get(driveId);
  const there = whatLiesAt(reserved.path, reserved.identity) === 'same';
  // A drive that is away is waited for.
  if (!there && drives.problemOf(drive)) return;
  const facts = there ? await readableFacts(services, reserved.path) : null;
  if (facts?.picture.packets) {
    const known = await takes.get(take.id).catch(() => null);
    if (!known) await insertClip(takes, take, reserved, drive, { bytes: facts.bytes, askedS });
    await finishClip(services, take, reserved, facts);
    if (!known)
      live.notify(
        'note',
        `${capitalised(takeName(take))} is there`,
        'It was being written when the application ended, and is as long as what had reached the drive.',
        take.id,
      );
  } else if (there) {
    removeOwn(reserved);
    log.add(
      'warn',
      `A clip at ${reserved.path} had not come to a whole picture when the application ended; it is gone.`,
    );
  }
  rmSync(path, { force: true });
}

/** @returns null where nothing of it can be read. @throws where that could not be found out, so that it is tried again */
async function readableFacts({ jobs }: ClipServices, filePath: string): Promise<MediaFacts | null> {
  try {
    return mediaFactsSchema.parse(await jobs.run({ title: 'Reading a clip back', job: { kind: 'facts', filePath } }));
  } catch (error) {
    if (error instanceof JobRefusedError) return null;
    throw error;
  }
}
