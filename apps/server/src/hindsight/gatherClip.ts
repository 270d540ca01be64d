import { existsSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { errorText, hindsightWords, takeName } from '@mellow/core';
import { answersAt, heldOwner, heldRecipe, reserveNoted, wasLetGo } from '@mellow/engine';
import type { Take } from '@mellow/model';
import { z } from 'zod';
import { heldFolderName, watchOfFolder } from '../orders/heldBeside';
import { finishClip, insertClip, plannedClip, type ClipServices } from './clip';

const gatheredSchema = z.object({ lengthUs: z.number(), bytes: z.number() });

/** Makes a clip of pieces that a recorder left on the drive when it died, and removes them. @returns null where nothing was there */
export async function gatherClip(
  services: ClipServices,
  setupId: string,
  driveId: string,
  folder: string,
): Promise<Take | null> {
  const { setups, drives, takes, jobs, journals, live } = services;
  if (!existsSync(folder)) return null;
  const { game } = await setups.get(setupId);
  const recipe = heldRecipe(folder);
  // The pieces may have waited in a working folder: the clip goes where the takes go.
  const wanted = await drives.get(recipe.driveId).catch(() => null);
  const { take, drive } = await plannedClip(services, {
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
        await insertClip(takes, take, reserved, drive, { bytes, askedS: lengthUs / 1e6 });
      },
    }),
  );
  // From here on the clip is somebody's take: whatever fails, its file stays, and so do the pieces.
  const stored = await finishClip(services, take, reserved);
  rmSync(folder, { recursive: true, force: true });
  live.notify(
    'note',
    'What was held is there',
    `The recorder had ended without a word. ${hindsightWords(kept.lengthUs / 1e6)} of what it held are ${takeName(take)} now.`,
    take.id,
  );
  return stored;
}

/**
 * After a death of everything: whatever was held on any drive becomes clips, each told once.
 * @param startedMs when this program began: what was begun since is its own
 */
export async function gatherLeft(services: ClipServices, startedMs: number): Promise<void> {
  const { drives, live, log } = services;
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
        if (watch) await gatherClip(services, watch.setupId, drive.id, folder);
        else rmSync(folder, { recursive: true, force: true });
      } catch (error) {
        log.add('error', `What was held in ${folder} could not be brought together: ${errorText(error)}`);
      }
    }
  }
}
