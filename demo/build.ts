import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { demoMachines, formatBytes, plainPracticeGame } from '@mellow/core';
import { ledgerNames } from '@mellow/engine';
import {
  briefSchema,
  endedStates,
  gameFactsSchema,
  type BriefInput,
  type DemoManifest,
  type LiveState,
  type PracticeGame,
  type Recipe,
  type Setup,
  type Take,
} from '@mellow/model';
import { demoDriveId } from '../apps/server/src/drives/drives';
import { thisMachine } from '../apps/server/src/machine/machineFacts';
import { openServices, type Services } from '../apps/server/src/services/services';

/**
 * Makes the demo by running the real program on this PC: setups, trials, files and ledgers are what it recorded.
 * Nothing is written by hand. npm run demo:build
 */
const target = fileURLToPath(new URL('./takes', import.meta.url));
const demoPcName = 'the PC the demo was made on';
const largestFileBytes = 4_000_000;
// What goes out says what the PC can do, not whose make it is.
process.env['MELLOW_PLAIN_MACHINE'] = '1';

const largestTotalBytes = 25_000_000;
const aac = (lanes: Recipe['lanes']): Recipe['lanes'] =>
  lanes.map((lane) => ({ ...lane, codec: 'aac', bitrateKbps: 96 }));

const folder = mkdtempSync(join(tmpdir(), 'mellow-demo-'));
const services = await openServices({ dataFolder: folder });
try {
  rmSync(target, { recursive: true, force: true });
  const comets = await longPlay(services);
  const slow = await slowMotion(services);
  const light = await asLightAsItGets(services);
  await services.machines.bringInDemo();
  const simulated = [await valeFilm(services), await cathedralSlowMotion(services), await wrenLight(services)];
  await exportDemo(services, [comets, slow, light, ...simulated]);
} finally {
  await services.recorder.shutDown();
  await services.store.close();
  rmSync(folder, { recursive: true, force: true });
}

/** A recipe tuned step by step: a start, one change, one more, the last repeated to see the spread. */
async function longPlay(s: Services): Promise<Setup> {
  const setup = await begin(s, 'Comets long play', { purpose: 'long-play', sessionMinutes: 90 }, {}, (r) => ({
    ...r,
    lanes: aac(r.lanes),
    encode: { ...r.encode, quality: 26 },
  }));
  await trial(s, setup.id, 6);
  await change(s, setup.id, (r) => ({ ...r, encode: { ...r.encode, effort: 'light' } }));
  await trial(s, setup.id, 6);
  await change(s, setup.id, (r) => ({ ...r, encode: { ...r.encode, quality: 24 } }));
  await trial(s, setup.id, 6);
  // A trial without losses belongs in here; on a busy machine it can take some tries, and all of them stay.
  for (let tries = 0; tries < 4 && (await trial(s, setup.id, 6)).verdict?.mark !== 'keep'; tries++);
  return s.setups.get(setup.id);
}

/** More than this machine can do: twice the frames at the heaviest effort, so that Encode loses frames. */
async function slowMotion(s: Services): Promise<Setup> {
  const setup = await begin(
    s,
    'Comets slow motion',
    { purpose: 'slow-motion', sessionMinutes: 10 },
    { capFps: 240, seed: 33, passages: [{ kind: 'busy', seconds: 6 }] },
    (r) => ({
      ...r,
      lanes: aac(r.lanes.slice(0, 1)),
      encode: { ...r.encode, effort: 'most-thorough', quality: 26, bFrames: 2 },
    }),
  );
  await trial(s, setup.id, 6);
  await change(s, setup.id, (r) => ({ ...r, encode: { ...r.encode, effort: 'lightest', bFrames: 0, quality: 30 } }));
  await trial(s, setup.id, 6);
  return s.setups.get(setup.id);
}

/** The lowest that is still good; its first trial is cut off by killing the recorder, and rescued. */
async function asLightAsItGets(s: Services): Promise<Setup> {
  const setup = await begin(
    s,
    'As light as it gets',
    { purpose: 'light', sessionMinutes: 60 },
    { title: 'Harrow Vale', scene: 'harrow-vale', capFps: 60, seed: 51, widthPx: 960, heightPx: 540, motion: 0.25 },
    (r) => ({
      ...r,
      lanes: aac(r.lanes),
      size: { ...r.size, widthPx: 640, heightPx: 360, filter: 'bilinear' },
    }),
  );
  await trial(s, setup.id, 10, 5.4);
  await trial(s, setup.id, 8);
  return s.setups.get(setup.id);
}

/** On a simulated machine: a calm game at its display's size, filed smaller by the card's own block. */
async function valeFilm(s: Services): Promise<Setup> {
  const facts = gameFactsSchema.parse({
    freeFps: 96,
    motion: 'calm',
    driveId: 'kestrel-games',
    windowMode: 'borderless',
    memoryGb: 6,
    smallTextPx: 16,
  });
  const setup = await begin(
    s,
    'Vale seasons film',
    { purpose: 'short-film', sessionMinutes: 15, uploadMbps: 40 },
    {
      title: 'Harrow Vale',
      scene: 'harrow-vale',
      seed: 71,
      widthPx: 2560,
      heightPx: 1440,
      capFps: 60,
      motion: 0.2,
      facts,
    },
    // Fine fields in a small file: what ships with the program stays small.
    (r) => ({
      ...r,
      size: { ...r.size, widthPx: 1280, heightPx: 720 },
      encode: { ...r.encode, quality: r.encode.quality + 4 },
    }),
    'kestrel',
  );
  await trial(s, setup.id, 3);
  return s.setups.get(setup.id);
}

/** On a simulated machine: more frames than the game gives, then fewer. */
async function cathedralSlowMotion(s: Services): Promise<Setup> {
  const facts = gameFactsSchema.parse({
    freeFps: 104,
    motion: 'middling',
    driveId: 'kestrel-games',
    memoryGb: 11,
    antiCheat: 'usual',
  });
  const setup = await begin(
    s,
    'Cathedral slow motion',
    { purpose: 'slow-motion', sessionMinutes: 10, slowPercent: 50 },
    {
      title: 'Tin Cathedral',
      scene: 'tin-cathedral',
      seed: 90,
      widthPx: 2560,
      heightPx: 1440,
      capFps: null,
      motion: 0.5,
      detail: 0.8,
      facts,
    },
    (r) => ({
      ...r,
      rate: { num: 120, den: 1 },
      size: { ...r.size, widthPx: 1280, heightPx: 720 },
      encode: { ...r.encode, effort: 'most-thorough', quality: 28 },
    }),
    'kestrel',
  );
  await trial(s, setup.id, 4);
  await change(s, setup.id, (r) => ({ ...r, encode: { ...r.encode, effort: 'light' } }));
  await trial(s, setup.id, 4);
  return s.setups.get(setup.id);
}

/** On a simulated weak laptop: first as on a strong PC, then what the advice leads to. */
async function wrenLight(s: Services): Promise<Setup> {
  const facts = gameFactsSchema.parse({
    freeFps: 70,
    motion: 'fast',
    driveId: 'wren-disk',
    memoryGb: 3,
    limiters: ['battery saving'],
    extras: ['browser'],
  });
  const setup = await begin(
    s,
    'Wren: as light as it gets',
    { purpose: 'light', sessionMinutes: 60 },
    { seed: 12, widthPx: 1366, heightPx: 768, capFps: 60, facts },
    (r) => ({
      ...r,
      rate: { num: 60, den: 1 },
      size: { ...r.size, widthPx: 1366, heightPx: 768 },
      encode: { ...r.encode, quality: 26, effort: 'most-thorough' },
    }),
    'wren',
  );
  await trial(s, setup.id, 5);
  await change(s, setup.id, (r) => ({
    ...r,
    rate: { num: 30, den: 1 },
    size: { ...r.size, widthPx: 1138, heightPx: 640 },
    encode: { ...r.encode, effort: 'lightest', keyDistanceFrames: 60 },
  }));
  await trial(s, setup.id, 5);
  return s.setups.get(setup.id);
}

async function begin(
  s: Services,
  name: string,
  brief: BriefInput,
  game: Partial<PracticeGame>,
  recipe: (start: Recipe) => Recipe,
  machineId?: string,
): Promise<Setup> {
  const setup = await s.setups.create({
    name,
    brief: briefSchema.parse(brief),
    game: { ...plainPracticeGame, ...game },
    ...(machineId ? { machineId } : {}),
  });
  return s.setups.setDraft(setup.id, recipe(setup.draft));
}

async function change(s: Services, setupId: string, recipe: (draft: Recipe) => Recipe): Promise<void> {
  const setup = await s.setups.get(setupId);
  await s.setups.setDraft(setupId, recipe(setup.draft));
}

async function trial(s: Services, setupId: string, lengthS: number, killAtS?: number): Promise<Take> {
  const begun = await s.recorder.startTrial(setupId, lengthS);
  if (killAtS !== undefined) {
    await until(s, (state) => (state.take?.elapsedUs ?? 0) >= killAtS * 1e6);
    process.kill(s.recorder.enginePid() ?? 0, 'SIGKILL');
  }
  await until(s, (state) => state.recorder === 'idle');
  const take = await s.takes.get(begun.id);
  if (!endedStates.includes(take.state)) throw new Error(`trial ${take.number} did not end`);
  console.log(
    `${take.number}: ${take.verdict?.sentence ?? take.state} ${take.facts ? formatBytes(take.facts.bytes) : ''}`,
  );
  return take;
}

function until(s: Services, wanted: (state: LiveState) => boolean): Promise<void> {
  return new Promise((resolve) => {
    const stop = s.live.listen((state) => {
      if (!wanted(state)) return;
      stop();
      resolve();
    });
  });
}

/** Copies media and ledgers beside one manifest; paths of this machine do not leave it. */
async function exportDemo(s: Services, setups: Setup[]): Promise<void> {
  const takes: Take[] = [];
  let total = 0;
  for (const take of (await s.takes.list()).reverse()) {
    const into = join(target, take.id);
    mkdirSync(into, { recursive: true });
    const media = basename(take.filePath);
    for (const name of [
      ledgerNames.closed,
      ledgerNames.pyramid,
      ledgerNames.losses,
      ledgerNames.seconds,
      ledgerNames.log,
      'still.jpg',
    ]) {
      const from = join(s.takes.folder(take.id), name);
      if (existsSync(from)) cpSync(from, join(into, name));
    }
    cpSync(take.filePath, join(into, media));
    const bytes = statSync(take.filePath).size;
    if (bytes > largestFileBytes)
      throw new Error(
        `${media} has ${formatBytes(bytes)}; a file of the demo may have ${formatBytes(largestFileBytes)}.`,
      );
    total += bytes;
    takes.push({
      ...take,
      demo: true,
      driveId: demoDriveId,
      fileName: media,
      filePath: media,
      files: [],
      machine: take.machine.origin === 'simulated' ? take.machine : { ...take.machine, name: demoPcName },
    });
  }
  if (total > largestTotalBytes)
    throw new Error(`The demo has ${formatBytes(total)}, more than ${formatBytes(largestTotalBytes)}.`);
  // The drives of a simulated machine come with it; those of this PC do not leave it.
  const own = new Set(demoMachines.flatMap((machine) => machine.drives.map((drive) => drive.id)));
  const onDemoDrive = (recipe: Recipe): Recipe =>
    own.has(recipe.driveId) ? recipe : { ...recipe, driveId: demoDriveId };
  const manifest: DemoManifest = {
    version: 1,
    madeAt: new Date().toISOString(),
    madeOn: { ...thisMachine(), name: demoPcName },
    setups: setups.map((setup) => ({
      ...setup,
      demo: true,
      draft: onDemoDrive(setup.draft),
      start: onDemoDrive(setup.start),
      undoDepth: 0,
      versions: setup.versions.map((v) => ({ ...v, recipe: onDemoDrive(v.recipe) })),
    })),
    takes: takes.map((take) => ({ ...take, recipe: onDemoDrive(take.recipe) })),
  };
  writeFileSync(join(target, 'manifest.json'), JSON.stringify(manifest, null, 1));
  console.log(`${setups.length} setups, ${takes.length} trials, ${formatBytes(total)} of media.`);
}
