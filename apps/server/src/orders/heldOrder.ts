import { join } from 'node:path';
import { dueFramesIn, waitingLimitBytes } from '@mellow/core';
import { machineOf, mostTakeS, practiceSource, type Drive, type Setup, type Take, type TakeOrder } from '@mellow/model';
import { problem } from '../errors/problem';
import { heldBeside, watchFolderName } from './heldBeside';
import { mustBeRecordable, type TrialServices } from './orderTrial';

/** What is held while no take rolls: everything a take is made of but its row. */
export interface WatchOrder {
  setup: Setup;
  drive: Drive;
  order: TakeOrder;
  clip: Pick<Take, 'game' | 'recipe' | 'source'>;
}

/**
 * The order to hold the last minutes of a setup's source without filing anything.
 * @throws a problem in words where it cannot be recorded
 */
export async function orderWatch(services: TrialServices, setupId: string, ledgerFolder: string): Promise<WatchOrder> {
  const setup = await services.setups.get(setupId);
  if (!setup.hindsight)
    throw problem('bad-request', 'This setup says not how much is to be held. Choose a length under Roll first.');
  const context = await services.contexts.of(setup);
  const { machine } = context;
  if (!machine || machine.origin === 'simulated')
    throw problem('bad-request', 'A simulated machine cannot hold anything: choose this PC on Path, under Game.');
  mustBeRecordable(setup, context);
  const source = await services.screens.today(setup.draft.source);
  // A clip is one file: a camera with a file of its own is left out.
  const camera = setup.draft.camera?.where === 'own-file' ? null : setup.draft.camera;
  const recipe = { ...setup.draft, camera };
  const pageSounds = await services.sounds.mustBeThere(recipe);
  await services.cameras.mustBeThere(recipe);
  const drive = await services.drives.get(recipe.driveId);
  const trouble = services.drives.problemOf(drive);
  if (trouble) throw problem('drive-problem', `${trouble} Nothing is held.`);
  const away = setup.hindsight.where === 'drive' ? services.working.trouble() : null;
  if (away) throw problem('drive-problem', `${away} Nothing is held.`);
  const { game } = setup;
  const order: TakeOrder = {
    takeId: `watch-${setup.id}`,
    recipe,
    game,
    source: source ?? practiceSource,
    machine: machineOf(machine),
    clock: 'real',
    dueFrames: dueFramesIn(recipe.rate, mostTakeS),
    openEnd: true,
    unfiled: true,
    parts: null,
    stripes: null,
    hindsight: heldBeside(setup, machine, services.working.driveFor(drive), watchFolderName(setup.id, Date.now())),
    warmUpS: services.warmUpS,
    baselineS: 0,
    pairs: 1,
    filePath: join(ledgerFolder, 'nothing'),
    identity: { device: '', inode: '', bornNs: null },
    ledgerFolder,
    driveFolder: drive.folder,
    quotaBytes: null,
    largestFileBytes: null,
    waitingLimitBytes,
    reserveBytes: 0,
    reservePath: null,
    encoderThreads: 0,
    script: [],
    plan: null,
    predrawnFrames: 0,
    pageSounds,
    cameraFile: null,
    cameraInput: null,
    keepPictures: false,
  };
  return { setup, drive, order, clip: { game, recipe, source: order.source } };
}
