import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatBytes, plainPracticeGame } from '@mellow/core';
import { ledgerNames } from '@mellow/engine';
import { briefSchema, endedStates, type BriefInput, type DemoManifest, type LiveState, type PracticeGame, type Recipe, type Setup, type Take } from '@mellow/model';
import { demoDriveId } from '../apps/server/src/services/demo';
import { thisMachine } from '../apps/server/src/services/machineFacts';
import { openServices, type Services } from '../apps/server/src/services/services';

/**
 * Makes the demo by running the real program on this PC: setups, trials, files and ledgers are what it recorded.
 * Nothing is written by hand. npm run demo:build
 */
const target = fileURLToPath(new URL('./takes', import.meta.url));
const largestFileBytes = 4_000_000;
const largestTotalBytes = 25_000_000;
const aac = (lanes: Recipe['lanes']): Recipe['lanes'] => lanes.map((lane) => ({ ...lane, codec: 'aac', bitrateKbps: 96 }));

const folder = mkdtempSync(join(tmpdir(), 'mellow-demo-'));
const services = await openServices({ dataFolder: folder });
try {
  rmSync(target, { recursive: true, force: true });
  const comets = await longPlay(services);
  const slow = await slowMotion(services);
  const light = await asLightAsItGets(services);
  await exportDemo(services, [comets, slow, light]);
} finally {
  await services.recorder.shutDown();
  await services.store.close();
  rmSync(folder, { recursive: true, force: true });
}

/** A recipe tuned step by step: a start, one change, one more, the last repeated to see the spread. */
async function longPlay(s: Services): Promise<Setup> {
  const setup = await begin(s, 'Comets long play', { purpose: 'long-play', sessionMinutes: 90 }, {}, (r) => ({ ...r, lanes: aac(r.lanes), encode: { ...r.encode, quality: 26 } }));
  await trial(s, setup.id, 8);
  await change(s, setup.id, (r) => ({ ...r, encode: { ...r.encode, effort: 'light' } }));
  await trial(s, setup.id, 8);
  await change(s, setup.id, (r) => ({ ...r, encode: { ...r.encode, quality: 24 } }));
  await trial(s, setup.id, 8);
  // A trial without losses belongs in here; on a busy machine it can take some tries, and all of them stay.
  for (let tries = 0; tries < 4 && (await trial(s, setup.id, 8)).verdict?.mark !== 'keep'; tries++);
  return s.setups.get(setup.id);
}

/** More than this machine can do: twice the frames at the heaviest effort, so that Encode loses frames. */
async function slowMotion(s: Services): Promise<Setup> {
  const setup = await begin(s, 'Comets slow motion', { purpose: 'slow-motion', sessionMinutes: 10 }, { capFps: 240, seed: 33, passages: [{ kind: 'busy', seconds: 6 }] }, (r) => ({
    ...r, lanes: aac(r.lanes.slice(0, 1)), encode: { ...r.encode, effort: 'most-thorough', quality: 26, bFrames: 2 },
  }));
  await trial(s, setup.id, 6);
  await change(s, setup.id, (r) => ({ ...r, encode: { ...r.encode, effort: 'lightest', bFrames: 0, quality: 30 } }));
  await trial(s, setup.id, 6);
  return s.setups.get(setup.id);
}

/** The lowest that is still good; its first trial is cut off by killing the recorder, and rescued. */
async function asLightAsItGets(s: Services): Promise<Setup> {
  const setup = await begin(s, 'As light as it gets', { purpose: 'light', sessionMinutes: 60 }, { capFps: 60, seed: 51, widthPx: 960, heightPx: 540, motion: 0.3 }, (r) => ({
    ...r, lanes: aac(r.lanes), size: { ...r.size, widthPx: 640, heightPx: 360, filter: 'bilinear' },
  }));
  await trial(s, setup.id, 10, 5.4);
  await trial(s, setup.id, 8);
  return s.setups.get(setup.id);
}

async function begin(s: Services, name: string, brief: BriefInput, game: Partial<PracticeGame>, recipe: (start: Recipe) => Recipe): Promise<Setup> {
  const setup = await s.setups.create({ name, brief: briefSchema.parse(brief), game: { ...plainPracticeGame, ...game } });
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
  console.log(`${take.number}: ${take.verdict?.sentence ?? take.state} ${take.facts ? formatBytes(take.facts.bytes) : ''}`);
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
    for (const name of [ledgerNames.closed, ledgerNames.seconds, ledgerNames.log, 'still.jpg']) {
      const from = join(s.takes.folder(take.id), name);
      if (existsSync(from)) cpSync(from, join(into, name));
    }
    cpSync(take.filePath, join(into, media));
    const bytes = statSync(take.filePath).size;
    if (bytes > largestFileBytes) throw new Error(`${media} has ${formatBytes(bytes)}; a file of the demo may have ${formatBytes(largestFileBytes)}.`);
    total += bytes;
    takes.push({ ...take, demo: true, driveId: demoDriveId, fileName: media, filePath: media, machine: { ...take.machine, name: 'the PC the demo was made on' } });
  }
  if (total > largestTotalBytes) throw new Error(`The demo has ${formatBytes(total)}, more than ${formatBytes(largestTotalBytes)}.`);
  const onDemoDrive = (recipe: Recipe): Recipe => ({ ...recipe, driveId: demoDriveId });
  const manifest: DemoManifest = {
    version: 1, madeAt: new Date().toISOString(), madeOn: { ...thisMachine(), name: 'the PC the demo was made on' },
    setups: setups.map((setup) => ({ ...setup, demo: true, draft: onDemoDrive(setup.draft), start: onDemoDrive(setup.start), undoDepth: 0, versions: setup.versions.map((v) => ({ ...v, recipe: onDemoDrive(v.recipe) })) })),
    takes: takes.map((take) => ({ ...take, recipe: onDemoDrive(take.recipe) })),
  };
  writeFileSync(join(target, 'manifest.json'), JSON.stringify(manifest, null, 1));
  console.log(`${setups.length} setups, ${takes.length} trials, ${formatBytes(total)} of media.`);
}
