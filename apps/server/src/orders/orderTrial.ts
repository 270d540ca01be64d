import { extname, join } from 'node:path';
import { nanoid } from 'nanoid';
import {
  adviceFor,
  dueFramesIn,
  predictionFor,
  recipeClashes,
  reserveBytes,
  sampledGame,
  sampleRecipe,
  seedOf,
  waitingLimitBytes,
  type ForecastContext,
  errorText,
  isStriped,
} from '@mellow/core';
import { reserveNoted, systemFacts, type Journal, type Reservation } from '@mellow/engine';
import {
  mostTakeS,
  type Clock,
  type Drive,
  type PracticeGame,
  type Recipe,
  type Setup,
  type Source,
  type StripeOrder,
  type Take,
  type TakeFile,
  type RolledKind,
  type TakeOrder,
} from '@mellow/model';
import { problem } from '../errors/problem';
import type { DriveService } from '../drives/drives';
import type { ForecastContexts } from '../setups/forecastContexts';
import type { Journals } from '../files/journals';
import { heldBeside } from './heldBeside';
import { partOrderOf } from './partOrder';
import { reservePathOf } from './reservePath';
import { stripeDrives, stripeFiles, stripeOrderOf, stripePaths } from './stripeOrder';
import { newTrial } from '../takes/newTrial';
import type { CameraService } from '../machine/cameras';
import type { SampleService } from '../setups/samples';
import type { ScreenService } from '../machine/screens';
import type { SetupService } from '../setups/setups';
import { passagesFor } from './passages';
import type { SoundService } from '../machine/sounds';
import type { TakeService } from '../takes/takes';
import type { WorkingService } from '../drives/working';

export interface TrialServices {
  journals: Pick<Journals, 'storing'>;
  drives: DriveService;
  working: Pick<WorkingService, 'driveFor' | 'trouble'>;
  setups: SetupService;
  samples: SampleService;
  cameras: CameraService;
  screens: ScreenService;
  sounds: SoundService;
  takes: TakeService;
  contexts: ForecastContexts;
  /** Trials of the practice game need no real clock where nobody measures this PC. */
  trialClock: Clock;
  warmUpS: number;
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
  /** Why nothing is held beside it, although the setup wants that. */
  notHeld: string | null;
}

interface Asked {
  setupId: string;
  lengthS: number | null;
  kind: RolledKind;
  /** Where it goes instead of the recipe's drive; null: there. */
  driveId: string | null;
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
  { setupId, lengthS, kind, driveId }: Asked,
): Promise<PreparedTrial> {
  const { takes, setups, contexts, trialClock } = services;
  const stored = await setups.get(setupId);
  const place = driveId ?? (kind === 'full' ? await firstWithRoom(services, stored.draft) : null);
  const setup = place === null ? stored : { ...stored, draft: { ...stored.draft, driveId: place } };
  const context = await contexts.of(setup);
  const { machine } = context;
  mustBeRecordable(setup, context);
  if (!machine)
    throw problem('not-found', 'The machine of this setup is not known any more. Choose one on Path, under Game.');
  const simulated = machine.origin === 'simulated';
  const { game, recipe, source, ordered } = await played(services, setup, kind, simulated);
  const pageSounds = await services.sounds.mustBeThere(recipe);
  if (!simulated) await services.cameras.mustBeThere(recipe);
  const { drive, quotaLeft } = await roomOn(services, setup, simulated);
  const version = await setups.version(setupId);
  const ceilingS = recipe.ceilingMinutes === null ? null : recipe.ceilingMinutes * 60;
  const length = lengthS === null ? ceilingS : Math.min(lengthS, ceilingS ?? Infinity);
  const mostS = length ?? mostTakeS;
  const seed = seedOf(game, setup.id);
  const now = new Date();
  const passages = passagesFor(game, Math.min(mostS, predictedSeconds));
  const prediction = predictionFor(ordered, { ...context, game }, seed, passages, now.toISOString());
  const number = await takes.nextNumber(setupId);
  const planned = newTrial({
    ...{ id, kind, game, recipe, setup, version, number, machine, drive, now, prediction, source },
    lengthS: length,
    clock: simulated || (kind === 'trial' && source.kind === 'practice' && trialClock === 'driven') ? 'driven' : 'real',
  });
  const notHeld = kind === 'full' && setup.hindsight?.where === 'drive' ? services.working.trouble() : null;
  const striped = simulated ? [] : await stripeDrives(services, recipe);
  for (const one of striped) await mustHaveRoom(services, one);
  return services.journals.storing(async (note) => {
    const wanted = striped.length ? stripePaths(striped, planned.fileName) : [planned.filePath];
    const files = wanted.map((path) => reserve(path, note));
    const [reserved] = files;
    if (!reserved) throw new Error('A take without a file.');
    const ownCamera = recipe.camera?.where === 'own-file' && !simulated;
    const cameraFile = ownCamera ? reserve(cameraPathOf(reserved.path), note) : null;
    const stripes = striped.length ? await stripeOrderOf(services, recipe, striped, files, id) : null;
    const take = withReservation(
      planned,
      drive,
      stripes ? stripeFiles(striped, files) : [{ role: 'take', ...reserved, bytes: null }],
      cameraFile,
      stripes,
    );
    const order: TakeOrder = {
      ...plainOrder(services, take, drive),
      ...{ recipe: ordered, game, dueFrames: dueFramesIn(recipe.rate, mostS), quotaBytes: quotaLeft },
      ...{ pageSounds, cameraFile, stripes, openEnd: length === null },
      filePath: reserved.path,
      identity: reserved.identity,
      parts: kind === 'full' && !stripes ? await partOrderOf(services, recipe, drive, take.fileName, id) : null,
      hindsight: kind === 'full' && !notHeld ? heldBeside(setup, machine, services.working.driveFor(drive), id) : null,
    };
    await takes.insert(take);
    return { take, order, simulated, context, seed, notHeld };
  });
}

/** What of an order follows from its take and the drive alone; nothing is held, cut, striped or scripted yet. */
function plainOrder(
  { takes, warmUpS, baselineS, pairs }: TrialServices,
  take: Take,
  drive: Drive,
): Omit<TakeOrder, 'dueFrames' | 'identity'> & Pick<TakeOrder, 'openEnd'> {
  // A game of one's own cannot be told to play a passage again, and a sample costs nobody's play.
  const costsPlay = take.source.kind === 'practice' && take.kind === 'trial';
  const { recipe, game, source, machine, clock, filePath } = take;
  return {
    ...{ takeId: take.id, recipe, game, source, machine, clock, filePath, warmUpS },
    baselineS: costsPlay ? baselineS : 0,
    pairs: costsPlay ? pairs : 1,
    ledgerFolder: takes.folder(take.id),
    driveFolder: drive.folder,
    quotaBytes: null,
    largestFileBytes: systemFacts.largestFileBytes(drive.folder),
    waitingLimitBytes,
    reserveBytes: drive.quotaBytes === null ? reserveBytes : 0,
    reservePath: drive.quotaBytes === null && clock === 'real' ? reservePathOf(drive, take.id) : null,
    ...{ encoderThreads: 0, script: [], plan: null, predrawnFrames: 0, pageSounds: null, cameraFile: null },
    ...{ cameraInput: null, unfiled: false, stripes: null, parts: null, hindsight: null, openEnd: false },
    keepPictures: take.kind !== 'sample',
  };
}

/** What a take records: the setup's draft of the source as it is today, a sample of it, or the sample in its place. */
async function played(
  { screens, samples }: TrialServices,
  setup: Setup,
  kind: RolledKind,
  simulated: boolean,
): Promise<{ game: PracticeGame; recipe: Recipe; source: Source; ordered: Recipe }> {
  const plays = kind === 'trial' ? setup.sample : null;
  if (simulated && kind === 'full')
    throw problem(
      'bad-request',
      'A simulated machine cannot roll: choose this PC on Path, under Game. A trial of it can be made.',
    );
  if (simulated && (plays || kind === 'sample'))
    throw problem(
      'bad-request',
      'A simulated machine plays the practice game and no sample. Let trials play the source itself, on Path under Capture.',
    );
  const recipe = kind === 'sample' ? sampleRecipe(setup.draft, setup.game) : setup.draft;
  const source: Source = plays ? await samples.today(plays) : await screens.today(setup.draft.source);
  return {
    game: plays ? sampledGame(setup.game, plays) : setup.game,
    recipe,
    source,
    // What decides in the recorder whether anything has to be scaled is what is played.
    ordered: plays ? { ...recipe, source } : recipe,
  };
}

export const newTakeId = (): string => nanoid(12);

/** @throws a problem where the recipe clashes or something of it is not there */
export function mustBeRecordable(setup: Setup, context: ForecastContext): void {
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
  return { drive, quotaLeft: await mustHaveRoom({ drives, takes }, drive) };
}

/**
 * Where a take begins that has folders to go on in: the first that can be written to and has room.
 * @returns null where it is the recipe's own drive, or none has any
 */
async function firstWithRoom(services: TrialServices, recipe: Recipe): Promise<string | null> {
  const { driveId, nextDriveIds } = recipe;
  if (isStriped(recipe)) return null;
  for (const id of [driveId, ...nextDriveIds]) {
    const drive = await services.drives.get(id).catch(() => null);
    if (!drive || services.drives.problemOf(drive)) continue;
    const hasRoom = await mustHaveRoom(services, drive).then(
      () => true,
      () => false,
    );
    if (hasRoom) return id === driveId ? null : id;
  }
  return null;
}

/** @returns what the drive's quota still allows; null where it has none. @throws where it cannot take even the reserve */
async function mustHaveRoom(
  { drives, takes }: Pick<TrialServices, 'drives' | 'takes'>,
  drive: Drive,
): Promise<number | null> {
  const used = drive.quotaBytes === null ? 0 : await takes.bytesOnDrive(drive.id);
  const quotaLeft = drive.quotaBytes === null ? null : drive.quotaBytes - used;
  const free = drives.freeBytes(drive);
  const full = quotaLeft === null ? free !== null && free < 2 * reserveBytes : quotaLeft <= 0;
  if (full)
    throw problem(
      'drive-problem',
      `${drive.name} is full. Delete takes on it, or choose another drive on Path, under Drive.`,
    );
  return quotaLeft;
}

function reserve(path: string, note: Journal): Reservation {
  try {
    return reserveNoted(path, note);
  } catch (error) {
    const why = errorText(error);
    throw problem('drive-problem', `The file cannot be made: ${why} The take was not begun.`);
  }
}

/** Beside the take, under its name. */
function cameraPathOf(path: string): string {
  return `${path.slice(0, -extname(path).length)} camera.mkv`;
}

function withReservation(
  take: Take,
  drive: Drive,
  files: readonly TakeFile[],
  camera: Reservation | null,
  stripes: StripeOrder | null,
): Take {
  const path = files[0]?.path ?? take.filePath;
  return {
    ...take,
    filePath: path,
    fileName: path.slice(join(drive.folder, '/').length),
    files: [...files, ...(camera ? [{ role: 'camera' as const, ...camera, bytes: null }] : [])],
    stripes: stripes && { blockBytes: stripes.blockBytes, pattern: stripes.pattern },
  };
}
