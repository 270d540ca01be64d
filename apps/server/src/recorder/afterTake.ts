import { rmSync } from 'node:fs';
import { errorText } from '@mellow/core';
import type { PartFile, ReadBackResult, RewrapInto, Take, TakeClosing } from '@mellow/model';
import { replaceByCopy } from '../takes/replaceByCopy';
import { nameOf, type AfterTakeServices } from './afterTakeServices';
import { rewrapTake } from './takeCopies';
import { compareKept, keptOf, makeStill, measureEncoder } from './takeMeasures';
import { adoptParts, readTakeBack, storeClosed } from './takeReadBack';
import { rescueTake, type RescueAsked } from './takeRescue';

export interface AfterTake {
  /** Files that the recorder has begun belong to the take from then on. */
  adoptParts(takeId: string, parts: readonly PartFile[]): Promise<Take>;
  /** Stores that the container is closed, before anything else is done with it. */
  storeClosed(take: Take, closing: TakeClosing): Promise<Take>;
  /** Reads a closed take back. @param ready the reading, where it was made already. @returns whether its picture is readable */
  readBack(take: Take, ready?: ReadBackResult): Promise<boolean>;
  /** Puts what a dead recorder left into a closed file. @returns whether its picture is readable */
  rescue(take: Take, asked: RescueAsked): Promise<boolean>;
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

/** The work on a take once its recorder is done with it, each piece a job in a process of its own. */
export function createAfterTake(services: AfterTakeServices): AfterTake {
  const { takes } = services;
  return {
    adoptParts: (takeId, parts) => adoptParts(services, takeId, parts),
    storeClosed: (take, closing) => storeClosed(services, take, closing),
    readBack: (take, ready) => readTakeBack(services, take, ready),
    rescue: (take, asked) => rescueTake(services, take, asked),
    dropSimulated: (take, why) => dropSimulated(services, take, why),
    storeFailure: (take, why) => storeFailure(services, take, why),
    finish: (take) => finish(services, take),
    dropKept(taken) {
      for (const take of taken) rmSync(keptOf(takes, take), { force: true });
    },
    rewrap: (takeId, into) => rewrapTake(services, takeId, into),
  };
}

async function dropSimulated({ takes, live }: AfterTakeServices, take: Take, why: string | null): Promise<false> {
  await takes.giveUpFiles(take.id);
  const endText = why ?? 'The simulated take was interrupted; nothing of it is kept.';
  await takes.update(take.id, { state: 'failed', end: 'error', endText, filePath: '', files: [] });
  live.notify('loss', `${nameOf(take)} was not made`, endText, take.id);
  return false;
}

async function storeFailure({ takes, live }: AfterTakeServices, take: Take, why: string): Promise<void> {
  const now = await takes.get(take.id);
  const closed = now.state === 'reading-back';
  const endText = closed
    ? `The file is closed and whole, but it could not be read back: ${why} Read it back again on its page.`
    : `It could not be rescued: ${why} Nothing was changed; it is tried again at the next start, or on its page.`;
  await takes.update(take.id, { state: 'waiting', endText });
  live.notify('loss', `${nameOf(take)} ${closed ? 'is not read back' : 'is not rescued'}`, endText, take.id);
}

async function finish(services: AfterTakeServices, take: Take): Promise<void> {
  const { takes, live } = services;
  const now = await takes.get(take.id);
  await compareKept(services, now);
  await measureEncoder(services, now);
  await makeStill(services, now);
  if (!now.recipe.rewrap || now.state !== 'closed') return;
  try {
    await rewrapTake(services, now.id);
  } catch (error) {
    const text = `The copy after stopping failed: ${errorText(error)} The take itself is safe.`;
    return live.notify('loss', `${nameOf(take)}: no MP4`, text, take.id);
  }
  if (!now.recipe.discardSource) return;
  await replaceByCopy(services, now.id).catch((error: unknown) =>
    live.notify('loss', `${nameOf(take)} keeps its file`, errorText(error), take.id),
  );
}
