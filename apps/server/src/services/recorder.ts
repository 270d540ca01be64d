import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { extname, join } from 'node:path';
import { nanoid } from 'nanoid';
import {
  adviceFor,
  dueFramesIn,
  predictionFor,
  recipeClashes,
  reserveBytes,
  seedOf,
  waitingLimitBytes,
} from '@mellow/core';
import { ledgerNames, startEngine, type EngineClient } from '@mellow/engine';
import {
  causes,
  endedStates,
  fates,
  ledgerHeaderSchema,
  rescueResultSchema,
  rewrapResultSchema,
  stationNames,
  takeResultSchema,
  type EngineEvent,
  type LiveTake,
  type MediaJob,
  type Take,
  type TakeEnd,
  type TakeOrder,
  type TakeResult,
  type TakeState,
} from '@mellow/model';
import { problem } from '../http/problem';
import type { AppLog } from './appLog';
import type { DriveService } from './drives';
import type { Folders } from './folders';
import type { ForecastContexts } from './forecastContexts';
import type { LiveHub } from './liveHub';
import { newTrial } from './newTrial';
import type { SetupService } from './setups';
import { makeSimulatedTake, passagesFor } from './simulatedTake';
import type { TakeService } from './takes';

export interface RecorderService {
  startTrial(setupId: string, lengthS: number): Promise<Take>;
  stop(): void;
  /** Runs a media job in the recorder's process; refused while a take rolls. */
  job(job: MediaJob): Promise<unknown>;
  /** Makes a plain MP4 of a finished take without encoding again. */
  rewrap(takeId: string): Promise<Take>;
  /** Refuses while a take rolls: nothing else of ours runs beside it. */
  mustBeIdle(): void;
  /** Looks for takes that an earlier run left open: closed by the engine meanwhile, or to be rescued. */
  recoverOrphans(): Promise<void>;
  /** Process number of the recorder, null when none runs. */
  enginePid(): number | null;
  /** Closes a rolling take and ends the recorder. */
  shutDown(): Promise<void>;
}

export interface RecorderContext {
  folders: Folders;
  log: AppLog;
  live: LiveHub;
  drives: DriveService;
  setups: SetupService;
  takes: TakeService;
  contexts: ForecastContexts;
  /** Silence of the recorder after which it counts as hung. */
  hangMs: number;
  baselineS: number;
}

/** A prediction looks at so many seconds of a take's passages at most. */
const predictedSeconds = 20;

/** How often it is looked whether the recorder still gives signs. */
const lookEveryMs = 250;

export function createRecorderService(context: RecorderContext): RecorderService {
  const { folders, log, live, drives, setups, takes, contexts, baselineS } = context;
  let engine: EngineClient | null = null;
  let starting: Promise<EngineClient> | null = null;
  let rolling: {
    take: Take;
    ended: () => void;
    whenEnded: Promise<void>;
    killedAs: TakeEnd | null;
    simulated: boolean;
  } | null = null;
  let claimed = false;
  /** How long the recorder gave no sign while we listened; where this process itself stood still, its messages are only late. */
  let silentMs = 0;
  let lastLookMs = performance.now();
  let closing = false;

  const watch = setInterval(() => {
    const now = performance.now();
    silentMs += Math.min(now - lastLookMs, 2 * lookEveryMs);
    lastLookMs = now;
    if (!rolling || !engine || rolling.take.state === 'rescuing' || silentMs < context.hangMs) return;
    rolling.killedAs = 'engine-hung';
    log.add(
      'error',
      `The recorder gave no sign for ${(context.hangMs / 1000).toFixed(0)} s and was ended.`,
      takes.folder(rolling.take.id),
    );
    engine.kill();
  }, lookEveryMs);
  watch.unref();

  /** One engine is kept started ahead, so that rolling begins at once. */
  function ready(): Promise<EngineClient> {
    if (engine) return Promise.resolve(engine);
    starting ??= startEngine().then(
      (client) => {
        engine = client;
        starting = null;
        client.onEvent(onEvent);
        client.onExit((code, signal) => {
          if (engine === client) engine = null;
          onEngineGone(code, signal);
        });
        return client;
      },
      (error: unknown) => {
        starting = null;
        throw problem(
          'engine-failed',
          `The recorder could not be started: ${error instanceof Error ? error.message : String(error)}`,
        );
      },
    );
    return starting;
  }

  function onEvent(event: EngineEvent): void {
    silentMs = 0;
    if (event.type === 'log') log.add(event.level, event.text, rolling ? takes.folder(rolling.take.id) : undefined);
    if (!rolling) return;
    const { take } = rolling;
    if (event.type === 'live' && event.live.takeId === take.id) {
      const liveTake: LiveTake = { ...event.live, setupId: take.setupId, number: take.number };
      if (take.state !== event.live.state && !endedStates.includes(take.state)) {
        rolling.take = { ...take, state: event.live.state };
        void takes.update(take.id, { state: event.live.state });
      }
      live.setTake(recorderWord(event.live.state), liveTake);
    } else if (rolling.simulated) return;
    else if (event.type === 'done' && event.result.takeId === take.id) void guard(finish(event.result));
    else if (event.type === 'refused') void guard(fail(event.text));
  }

  async function finish(result: TakeResult): Promise<void> {
    if (!rolling) return;
    const { take } = rolling;
    if (!result.closedWell) return rescue(take, result.end, result.endText);
    await takes.update(take.id, resultChange(result));
    if (result.end !== 'length' && result.end !== 'stopped')
      live.notify('loss', `Trial ${take.number} ended early`, result.endText ?? '', take.id);
    await still(take.id);
    if (take.recipe.rewrap)
      await rewrap(take.id).catch((error: unknown) =>
        live.notify(
          'loss',
          `Trial ${take.number}: no MP4`,
          `The copy after stopping failed: ${error instanceof Error ? error.message : String(error)} The take itself is safe.`,
          take.id,
        ),
      );
    end();
  }

  /** Makes a plain MP4 beside a take, read back and compared; the take stays as it is. */
  async function rewrap(takeId: string): Promise<Take> {
    const take = await takes.get(takeId);
    const path = await takes.file(takeId);
    const client = await ready();
    const result = rewrapResultSchema.parse(
      await client.job({
        kind: 'rewrap',
        filePath: path,
        outPath: `${path.slice(0, -extname(path).length)}${extname(path) === '.mp4' ? ' plain' : ''}.mp4`,
      }),
    );
    log.add(
      'info',
      `Trial ${take.number}: an MP4 with ${result.pictures} pictures was made and read back.`,
      takes.folder(takeId),
    );
    return takes.update(takeId, { rewrappedPath: result.filePath });
  }

  function resultChange(result: TakeResult): Partial<Take> {
    const state: TakeState = result.facts ? (result.end === 'drive-gone' ? 'rescued' : 'closed') : 'failed';
    return {
      state,
      end: result.end,
      endText: result.endText,
      facts: result.facts,
      summary: result.summary,
      tailFrames: result.tailFrames,
      fileOffsetUs: result.fileOffsetUs,
      filePath: result.filePath,
      playCost: result.baseline && result.recorded ? { without: result.baseline, with: result.recorded } : null,
    };
  }

  async function fail(text: string): Promise<void> {
    if (!rolling) return;
    const { take } = rolling;
    if (existsSync(join(takes.folder(take.id), ledgerNames.header)) && existsSync(take.filePath))
      return rescue(take, 'error', text);
    await takes.update(take.id, {
      state: 'failed',
      end: 'error',
      endText: `The take could not begin: ${text}`,
      filePath: '',
    });
    live.notify('loss', `Trial ${take.number} could not begin`, text, take.id);
    end();
  }

  function onEngineGone(code: number | null, signal: string | null): void {
    if (!rolling) {
      if (!closing)
        log.add(
          'warn',
          `The recorder's process ended while idle (${signal ?? code}); it is started again when needed.`,
        );
      return;
    }
    const how: TakeEnd = rolling.killedAs ?? 'engine-died';
    const text =
      how === 'engine-hung'
        ? 'The recorder stopped answering and was ended.'
        : `The recorder died while rolling (${signal ?? `code ${code}`}).`;
    log.add('error', text, takes.folder(rolling.take.id));
    if (closing) end();
    else void guard(rescue(rolling.take, how, text));
  }

  /** What a dead recorder left is put into a closed file, by a fresh recorder. */
  async function rescue(take: Take, how: TakeEnd, text: string | null): Promise<void> {
    await takes.update(take.id, { state: 'rescuing' });
    if (rolling) rolling.take = { ...rolling.take, state: 'rescuing' };
    live.setTake('closing', live.state().take ? { ...live.state().take!, state: 'rescuing' } : null);
    if (!existsSync(join(takes.folder(take.id), ledgerNames.header))) {
      await takes.update(take.id, {
        state: 'failed',
        end: how,
        endText: `${text ?? ''} It had not begun to write, so nothing is lost.`.trim(),
        filePath: '',
      });
      live.notify('loss', `Trial ${take.number} did not begin`, `${text ?? ''} Make the trial again.`, take.id);
      return end();
    }
    const client = await ready();
    const found = rescueResultSchema.parse(
      await client.job({
        kind: 'rescue',
        ledgerFolder: takes.folder(take.id),
        filePath: take.filePath,
        fallbackFolder: folders.kept,
        dueHeard: live.state().take?.takeId === take.id ? (live.state().take?.due ?? 0) : 0,
      }),
    );
    const lostS = (found.lostUs / 1e6).toFixed(2);
    const keptS = ((found.facts?.picture.endUs ?? 0) / 1e6).toFixed(2);
    const words = found.facts ? `${keptS} s were rescued, ${lostS} s are lost.` : found.text;
    await takes.update(take.id, {
      state: found.facts ? 'rescued' : 'failed',
      end: how,
      endText: `${text ?? ''} ${found.text}`.trim(),
      facts: found.facts,
      summary: found.summary,
      tailFrames: found.tailFrames,
      fileOffsetUs: found.fileOffsetUs,
      filePath: found.filePath,
    });
    live.notify(
      'loss',
      `Trial ${take.number}: ${found.facts ? 'rescued' : 'nothing could be read'}`,
      `${text ?? ''} ${words} The next trial can be made at once.`.trim(),
      take.id,
    );
    if (found.facts) await still(take.id);
    end();
  }

  /** A small picture of the take for lists; a take without one is fine. */
  async function still(takeId: string): Promise<void> {
    const take = await takes.get(takeId);
    if (!take.facts || !take.filePath) return;
    try {
      const client = await ready();
      await client.job({
        kind: 'still',
        filePath: take.filePath,
        outPath: join(takes.folder(takeId), 'still.jpg'),
        atUs: (take.facts.picture.endUs ?? 0) * 0.45,
      });
    } catch (error) {
      log.add(
        'warn',
        `No still of trial ${take.number}: ${error instanceof Error ? error.message : String(error)}`,
        takes.folder(takeId),
      );
    }
  }

  function end(): void {
    const done = rolling?.ended;
    rolling = null;
    claimed = false;
    live.setTake('idle', null);
    live.dataChanged();
    done?.();
    if (!closing) ready().catch(() => {});
  }

  /** Work nobody waits for: an error ends the take in words instead of being lost. */
  async function guard(work: Promise<void>): Promise<void> {
    try {
      await work;
    } catch (error) {
      const text = error instanceof Error ? error.message : String(error);
      const take = rolling?.take;
      log.add('error', `The take could not be finished: ${text}`, take ? takes.folder(take.id) : undefined);
      if (take)
        await takes
          .update(take.id, {
            state: 'failed',
            end: 'error',
            endText: `The take could not be finished: ${text} Its file was not touched.`,
          })
          .catch(() => {});
      end();
    }
  }

  const busy = () => {
    const now = rolling?.take;
    return problem(
      'recorder-busy',
      `${now ? `Trial ${now.number}` : 'A take'} is rolling. Only one take rolls at a time; stop it or wait until it is closed.`,
    );
  };

  function mustBeIdle(): void {
    if (rolling)
      throw problem(
        'recorder-busy',
        'A take is rolling; while it does, nothing else of ours runs beside it. Try again when it is closed.',
      );
  }

  return {
    async startTrial(setupId, lengthS) {
      if (claimed) throw busy();
      claimed = true;
      try {
        const setup = await setups.get(setupId);
        const clash = recipeClashes(setup.draft).find((c) => c.weight === 'stops');
        if (clash)
          throw problem('recipe-clash', `${clash.title}. ${clash.text} "${clash.remedy.label}" on Path settles it.`);
        const context = await contexts.of(setup);
        const { machine } = context;
        if (!machine)
          throw problem(
            'not-found',
            'The machine of this setup is not known any more. Choose one on Path, under Game.',
          );
        const broken = adviceFor(setup.draft, context).find(
          (advice) => advice.weight === 'stops' && advice.id !== 'drive-trouble' && advice.id !== 'no-drive',
        );
        if (broken) throw problem('recipe-clash', `${broken.title}. ${broken.text}`);
        const simulated = machine.origin === 'simulated';
        const drive = await drives.get(simulated ? await drives.defaultId() : setup.draft.driveId);
        const trouble = drives.problemOf(drive);
        if (trouble) throw problem('drive-problem', `${trouble} The take was not begun.`);
        const used = drive.quotaBytes === null ? 0 : await takes.bytesOnDrive(drive.id);
        const quotaLeft = drive.quotaBytes === null ? null : drive.quotaBytes - used;
        if (quotaLeft !== null && quotaLeft <= 0)
          throw problem(
            'drive-problem',
            `${drive.name} is full. Delete takes on it, or choose another drive on Path, under Drive.`,
          );
        const client = await ready();
        const version = await setups.version(setupId);
        const length = Math.min(lengthS, (version.recipe.ceilingMinutes ?? Infinity) * 60);
        const seed = seedOf(setup.game, setup.id);
        const now = new Date();
        const prediction = predictionFor(
          version.recipe,
          context,
          seed,
          passagesFor(setup.game, Math.min(length, predictedSeconds)),
          now.toISOString(),
        );
        const take = newTrial({
          id: nanoid(12),
          setup,
          version,
          number: await takes.nextNumber(setupId),
          machine,
          drive,
          lengthS: length,
          now,
          prediction,
        });
        const { id } = take;
        mkdirSync(takes.folder(id), { recursive: true });
        await takes.insert(take);
        let ended: () => void = () => {};
        const whenEnded = new Promise<void>((resolve) => (ended = resolve));
        rolling = { take, ended, whenEnded, killedAs: null, simulated };
        silentMs = 0;
        live.setTake('armed', liveAtStart(take));
        const order: TakeOrder = {
          takeId: id,
          recipe: version.recipe,
          game: setup.game,
          machine: take.machine,
          clock: take.clock,
          dueFrames: dueFramesIn(version.recipe.rate, length),
          baselineS: baselineS,
          filePath: take.filePath,
          ledgerFolder: takes.folder(id),
          driveFolder: drive.folder,
          quotaBytes: quotaLeft,
          waitingLimitBytes,
          reserveBytes: drive.quotaBytes === null ? reserveBytes : 0,
          encoderThreads: 0,
          script: [],
          plan: null,
          predrawnFrames: 0,
        };
        if (simulated) void guard(makeSimulatedTake({ engine: client, order, context, seed }).then(finish));
        else client.roll(order);
        return take;
      } catch (error) {
        claimed = false;
        throw error;
      }
    },
    stop() {
      if (!rolling || !engine)
        throw problem('recorder-idle', 'Nothing is rolling, so nothing was stopped. The take has probably just ended.');
      engine.stop();
    },
    mustBeIdle,
    async rewrap(takeId) {
      mustBeIdle();
      return rewrap(takeId);
    },
    async job(job) {
      mustBeIdle();
      return (await ready()).job(job);
    },
    async recoverOrphans() {
      for (const take of await takes.list()) {
        if (endedStates.includes(take.state)) continue;
        claimed = true;
        rolling = {
          take,
          ended: () => {},
          whenEnded: Promise.resolve(),
          killedAs: null,
          simulated: take.machine.origin === 'simulated',
        };
        live.setTake('closing', { ...liveAtStart(take), state: 'rescuing' });
        const result = await resultOfOrphan(takes.folder(take.id));
        if (result?.closedWell) {
          await takes.update(take.id, resultChange(result));
          await still(take.id);
          live.notify(
            'note',
            `Trial ${take.number} was closed without us`,
            'The application ended while it was rolling; the recorder closed the take by itself.',
            take.id,
          );
          end();
        } else {
          await guard(
            rescue(
              take,
              result?.end ?? 'server-gone',
              'The application and the recorder ended while the take was rolling.',
            ),
          );
        }
      }
    },
    enginePid: () => engine?.pid ?? null,
    async shutDown() {
      closing = true;
      clearInterval(watch);
      if (rolling && engine) {
        engine.stop();
        await Promise.race([rolling.whenEnded, new Promise((resolve) => setTimeout(resolve, 20_000))]);
      }
      const last = await (starting ?? Promise.resolve(engine)).catch(() => null);
      if (!last) return;
      await new Promise<void>((resolve) => {
        last.onExit(() => resolve());
        last.quit();
      });
    },
  };
}

/** What is shown of a take before the recorder has said anything. */
function liveAtStart(take: Take): LiveTake {
  const none = <T extends string>(names: readonly T[]) =>
    Object.fromEntries(names.map((name) => [name, 0])) as Record<T, number>;
  return {
    takeId: take.id,
    setupId: take.setupId,
    number: take.number,
    state: take.state,
    lengthS: take.lengthS,
    elapsedUs: 0,
    baselineLeftS: 0,
    due: 0,
    fates: none(fates),
    causes: none(causes),
    lastMinute: [],
    bytesWritten: 0,
    durableBytes: 0,
    bytesPerSecond: 0,
    bytesQueued: 0,
    gameFps: null,
    gameSlowestMs: null,
    loads: Object.fromEntries(
      stationNames.map((name) => [name, { meanMs: null, busiestMs: null }]),
    ) as LiveTake['loads'],
    lanePeakDbfs: [],
    recorderCores: null,
  };
}

const recorderWord = (state: TakeState): 'idle' | 'armed' | 'rolling' | 'closing' =>
  state === 'rolling'
    ? 'rolling'
    : state === 'preparing' || state === 'baseline'
      ? 'armed'
      : endedStates.includes(state)
        ? 'idle'
        : 'closing';

/** What an engine without a server left: its result, once it has closed the take; null when it died too. */
async function resultOfOrphan(folder: string): Promise<TakeResult | null> {
  const header = join(folder, ledgerNames.header);
  const result = join(folder, ledgerNames.result);
  if (!existsSync(header)) return null;
  const { enginePid } = ledgerHeaderSchema.parse(JSON.parse(readFileSync(header, 'utf8')));
  const until = performance.now() + 20_000;
  while (!existsSync(result) && isEngine(enginePid) && performance.now() < until)
    await new Promise((resolve) => setTimeout(resolve, 100));
  if (!existsSync(result)) {
    if (isEngine(enginePid)) process.kill(enginePid, 'SIGKILL');
    return null;
  }
  return takeResultSchema.parse(JSON.parse(readFileSync(result, 'utf8')));
}

/** Whether a process number still belongs to one of our recorders. */
function isEngine(pid: number): boolean {
  try {
    process.kill(pid, 0);
    const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
    return line.includes('main.mjs') && !readFileSync(`/proc/${pid}/stat`, 'utf8').includes(') Z ');
  } catch {
    return false;
  }
}
