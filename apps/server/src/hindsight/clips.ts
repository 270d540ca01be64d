import { capitalised, errorText, hindsightWords, takeName } from '@mellow/core';
import { removeOwn, reserveNoted } from '@mellow/engine';
import type { KeptClip, Take } from '@mellow/model';
import { problem } from '../errors/problem';
import { finishClip, insertClip, plannedClip, type ClipOrigin, type ClipServices } from './clip';
import { gatherClip, gatherLeft } from './gatherClip';
import { notePending, takeUpPending } from './pendingClips';

/** Clips: parts of what was held, kept as files of their own that stand among the takes. */
export interface ClipService {
  /** Keeps the last seconds. @throws a problem in words; nothing is left behind then */
  keep(origin: ClipOrigin, lastS: number | null): Promise<KeptClip>;
  /** Makes a clip of pieces that a recorder left on the drive when it died, and removes them. @returns null where nothing was there */
  gather(setupId: string, driveId: string, folder: string): Promise<Take | null>;
  /** After a death of everything: whatever was held on any drive becomes clips, each told once. */
  gatherAll(): Promise<void>;
}

export function createClipService(services: ClipServices): ClipService {
  const startedMs = Date.now();
  return {
    keep: (origin, lastS) => keep(services, origin, lastS),
    gather: (setupId, driveId, folder) => gatherClip(services, setupId, driveId, folder),
    async gatherAll() {
      await takeUpPending(services);
      await gatherLeft(services, startedMs);
    },
  };
}

async function keep(services: ClipServices, origin: ClipOrigin, lastS: number | null): Promise<KeptClip> {
  const { drives, takes, journals, pendingFolder, live, log } = services;
  const { take, drive } = await plannedClip(services, origin);
  const trouble = drives.problemOf(drive);
  if (trouble) throw problem('drive-problem', `${trouble} Nothing was kept.`);
  const wantedS = Math.min(lastS ?? origin.lengthS, origin.lengthS);
  const { reserved, done } = await journals.storing(async (note) => {
    const file = reserveNoted(take.filePath, note);
    return {
      reserved: file,
      done: notePending(pendingFolder, { take, driveId: drive.id, reserved: file, askedS: wantedS }),
    };
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
  await insertClip(takes, take, reserved, drive, { bytes: kept.bytes, askedS: wantedS });
  const name = capitalised(takeName(take));
  const rolls = live.state().recorder !== 'idle';
  live.notify(
    'note',
    `The last ${hindsightWords(kept.lengthUs / 1e6)} are kept`,
    rolls ? `${name} lies beside the takes; it is read back when nothing rolls.` : `${name} lies beside the takes.`,
    take.id,
  );
  const finished = finishClip(services, take, reserved).then(done);
  if (rolls)
    finished.catch((error: unknown) => log.add('error', `${name} could not be read back: ${errorText(error)}`));
  else await finished;
  return { ...(await takes.get(take.id)), keptUs: kept.lengthUs };
}
