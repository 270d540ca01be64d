import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { errorText, filedSize, needsUnpaced, withUnpacedLoad } from '@mellow/core';
import { ledgerNames } from '@mellow/engine';
import { likenessSchema, unpacedSchema, type Take } from '@mellow/model';
import { readableOf } from '../takes/takeParts';
import { nameOf, type AfterTakeServices } from './afterTakeServices';

type Services = Pick<AfterTakeServices, 'takes' | 'jobs' | 'log'>;

/** A small picture of the take for lists; a take without one is fine. */
export async function makeStill({ takes, jobs, log }: Services, take: Take): Promise<void> {
  if (!take.facts || !take.filePath) return;
  try {
    await jobs.run({
      title: `${nameOf(take)}: still`,
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

/** Where the pictures that were kept for comparing lie. */
export const keptOf = (takes: Pick<AfterTakeServices['takes'], 'folder'>, take: Take): string =>
  join(takes.folder(take.id), ledgerNames.kept);

/** Holds the file's pictures against what the encoder was given, and throws that away. */
export async function compareKept({ takes, jobs, log }: Services, take: Take): Promise<void> {
  const keptPath = keptOf(takes, take);
  if (!existsSync(keptPath)) return;
  const { rate } = take.recipe;
  try {
    const { widthPx, heightPx } = filedSize(take.recipe);
    const filePath = readableOf(take, takes.folder(take.id));
    const job = { kind: 'compare-kept' as const, keptPath, filePath, widthPx, heightPx, rate };
    const found = likenessSchema.nullable().parse(
      await jobs.run({
        title: `${nameOf(take)}: measuring the picture`,
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
export async function measureEncoder({ takes, jobs, log }: Services, take: Take): Promise<void> {
  if (!needsUnpaced(take)) return;
  try {
    const found = unpacedSchema.parse(
      await jobs.run({
        title: `${nameOf(take)}: measuring the encoder`,
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
