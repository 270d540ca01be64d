import { join } from 'node:path';
import { nanoid } from 'nanoid';
import {
  adviceFor,
  dueFramesIn,
  predictionFor,
  recipeClashes,
  reserveBytes,
  seedOf,
  waitingLimitBytes,
  type ForecastContext,
} from '@mellow/core';
import { giveBack, reserveFile, systemFacts, type Reservation } from '@mellow/engine';
import { isGrabbed, type Drive, type Setup, type Take, type TakeOrder } from '@mellow/model';
import { problem } from '../http/problem';
import type { DriveService } from '../services/drives';
import type { ForecastContexts } from '../services/forecastContexts';
import { newTrial } from '../services/newTrial';
import type { ScreenService } from '../services/screens';
import type { SetupService } from '../services/setups';
import { passagesFor } from '../services/simulatedTake';
import type { SoundService } from '../services/sounds';
import type { TakeService } from '../services/takes';

export interface TrialServices {
  drives: DriveService;
  setups: SetupService;
  screens: ScreenService;
  sounds: SoundService;
  takes: TakeService;
  contexts: ForecastContexts;
  baselineS: number;
  pairs: number;
}

/** A trial that can roll: stored, its name reserved, its order complete. */
export interface PreparedTrial {
  take: Take;
  order: TakeOrder;
  simulated: boolean;
  context: ForecastContext;
  seed: number;
}

/** A prediction looks at so many seconds of a take's passages at most. */
const predictedSeconds = 20;

/**
 * Checks recipe, machine and drive, reserves the file's name exclusively and stores the take.
 * @throws a problem in words; nothing is left behind then
 */
export async function prepareTrial(
  services: TrialServices,
  id: string,
  setupId: string,
  lengthS: number,
): Promise<PreparedTrial> {
  const { takes, setups, contexts, baselineS, pairs } = services;
  const setup = await setups.get(setupId);
  const context = await contexts.of(setup);
  const { machine } = context;
  mustBeRecordable(setup, context);
  if (!machine)
    throw problem('not-found', 'The machine of this setup is not known any more. Choose one on Path, under Game.');
  const simulated = machine.origin === 'simulated';
  const source = await services.screens.today(setup.draft.source);
  const pageSounds = await services.sounds.mustBeThere(setup.draft);
  const { drive, quotaLeft } = await roomOn(services, setup, simulated);
  const version = await setups.version(setupId);
  const length = Math.min(lengthS, (version.recipe.ceilingMinutes ?? Infinity) * 60);
  const seed = seedOf(setup.game, setup.id);
  const now = new Date();
  const passages = passagesFor(setup.game, Math.min(length, predictedSeconds));
  const prediction = predictionFor(version.recipe, context, seed, passages, now.toISOString());
  const number = await takes.nextNumber(setupId);
  const planned = newTrial({ id, setup, version, number, machine, drive, lengthS: length, now, prediction, source });
  const reserved = reserve(planned.filePath);
  try {
    const take = withReservation(planned, drive, reserved);
    await takes.insert(take);
    const order: TakeOrder = {
      takeId: id,
      recipe: version.recipe,
      game: setup.game,
      source,
      machine: take.machine,
      clock: take.clock,
      dueFrames: dueFramesIn(version.recipe.rate, length),
      // A game of one's own cannot be told to play a passage again.
      baselineS: isGrabbed(source) ? 0 : baselineS,
      pairs: isGrabbed(source) ? 1 : pairs,
      filePath: reserved.path,
      identity: reserved.identity,
      ledgerFolder: takes.folder(id),
      driveFolder: drive.folder,
      quotaBytes: quotaLeft,
      largestFileBytes: systemFacts.largestFileBytes(drive.folder),
      waitingLimitBytes,
      reserveBytes: drive.quotaBytes === null ? reserveBytes : 0,
      encoderThreads: 0,
      script: [],
      plan: null,
      predrawnFrames: 0,
      pageSounds,
      keepPictures: true,
    };
    return { take, order, simulated, context, seed };
  } catch (error) {
    giveBack(reserved);
    throw error;
  }
}

export const newTakeId = (): string => nanoid(12);

function mustBeRecordable(setup: Setup, context: ForecastContext): void {
  const clash = recipeClashes(setup.draft).find((c) => c.weight === 'stops');
  if (clash) throw problem('recipe-clash', `${clash.title}. ${clash.text} "${clash.remedy.label}" on Path settles it.`);
  const broken = adviceFor(setup.draft, context).find(
    (advice) => advice.weight === 'stops' && advice.id !== 'drive-trouble' && advice.id !== 'no-drive',
  );
  if (broken) throw problem('recipe-clash', `${broken.title}. ${broken.text}`);
}

/** The drive the file goes to, and what its quota still allows. @throws where it cannot take even the reserve */
async function roomOn(
  { drives, takes }: TrialServices,
  setup: Setup,
  simulated: boolean,
): Promise<{ drive: Drive; quotaLeft: number | null }> {
  const drive = await drives.get(simulated ? await drives.defaultId() : setup.draft.driveId);
  const trouble = drives.problemOf(drive);
  if (trouble) throw problem('drive-problem', `${trouble} The take was not begun.`);
  const used = drive.quotaBytes === null ? 0 : await takes.bytesOnDrive(drive.id);
  const quotaLeft = drive.quotaBytes === null ? null : drive.quotaBytes - used;
  const free = drives.freeBytes(drive);
  const full = quotaLeft === null ? free !== null && free < 2 * reserveBytes : quotaLeft <= 0;
  if (full)
    throw problem(
      'drive-problem',
      `${drive.name} is full. Delete takes on it, or choose another drive on Path, under Drive.`,
    );
  return { drive, quotaLeft };
}

function reserve(path: string): Reservation {
  try {
    return reserveFile(path);
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw problem('drive-problem', `The file cannot be made: ${why} The take was not begun.`);
  }
}

const withReservation = (take: Take, drive: Drive, { path, identity }: Reservation): Take => ({
  ...take,
  filePath: path,
  fileName: path.slice(join(drive.folder, '/').length),
  files: [{ role: 'take', path, identity, bytes: null }],
});
