import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import {
  ascending,
  dueUs,
  framesPerSecond,
  gameRunOf,
  passesThrough,
  percentileOfSorted,
  errorText,
} from '@mellow/core';
import {
  stationNames,
  type EngineEvent,
  type Held,
  type KeepOrder,
  type PartFile,
  type GameRun,
  type SecondRow,
  type SoundSource,
  type TakeClosing,
  type TakeEnd,
  type TakeOrder,
  type TakeState,
} from '@mellow/model';
import { cameraReport } from '../camera/cameraReport';
import { writeDurably } from '../files/durable';
import { identityOfPath } from '../files/identity';
import { ledgerNames } from '../ledger/ledgerNames';
import { openLedgerStream, type LedgerStreamWriter } from '../ledger/streamWriter';
import { openControl, type StopReason } from '../shared/control';
import { openLedgerRing } from '../shared/ledgerRing';
import { nowUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import { openTakeClock } from '../shared/takeClock';
import { createTakeMemory } from '../shared/takeMemory';
import { followWindow } from '../screen/windowWatch';
import { openSource } from '../sources/openSource';
import { commandGame, createRecordedRun, runBaseline, startGameForTake } from './gameRuns';
import { createLiveCounter } from './liveCounter';
import { createLoadMeter } from './loadMeter';
import { countingLog } from './repeatedLines';
import { createEvenSamples } from './samples';
import { createSettler } from './settler';
import { openTakeSounds, soundThreads } from './takeSounds';
import { endOf, endTexts, nothingRecorded } from './takeTexts';
import { startThreads, stripesNamed, type ThreadGroup, type ThreadName, type ThreadReady } from './threadGroup';

export interface TakeRun {
  stop(reason: StopReason): void;
  /** Opens and closes a sound that is heard while its key is held. */
  hold(sound: SoundSource, open: boolean): void;
  /** Records nothing until it goes on; the file has no gap. */
  pause(on: boolean): void;
  /** Writes part of what is held into a file; the answer is an event. */
  keep(keep: KeepOrder): void;
  closing: Promise<TakeClosing>;
  /** Frame times of the game in the same passage without and with recording; there when the take is closed. */
  piece(): GamePiece | null;
}

/** The game's frame times, milliseconds, over one passage without and with recording. */
export interface GamePiece {
  without: readonly number[];
  with: readonly number[];
}

const tickMs = 200;
/** Threads that get on have all the time they need; after so long without any progress they are told to give up. */
const closingPatienceMs = 60_000;
const givingUpMs = 10_000;
/** Whether they get on is looked at so often. */
const lookMs = 500;
const doneFlags = {
  picker: 'pickerDone',
  size: 'sizeDone',
  encode: 'encodeDone',
  pack: 'packDone',
  drive: 'driveDone',
  keep: 'keepDone',
} as const;

/**
 * Makes one take up to its closed container: baseline, warm-up, rolling, closing. Reading the file back is another
 * process's work. Everything that is told goes out as events.
 */
export function runTake(
  order: TakeOrder,
  engineSocket: string,
  emit: (event: EngineEvent) => void,
  earlier: readonly GamePiece[] = [],
): TakeRun {
  const memory = createTakeMemory(order);
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const ledger = openLedgerRing(memory.ledger);
  const { rate } = order.recipe;
  const source = openSource(order);
  const sounds = openTakeSounds(order, memory);
  const lines = countingLog((level, text) => emit({ type: 'log', level, text }));
  const counter = createLiveCounter();
  let failure: string | null = null;
  let state: TakeState = 'preparing';
  let baselineLeftS = order.baselineS;
  let dueZeroUs = 0;
  let piece: GamePiece | null = null;
  let threads: ThreadGroup | null = null;
  const keptStripes: TakeClosing['keptStripes'] = [];
  const parts: PartFile[] = [{ path: order.filePath, identity: order.identity, startUs: 0 }];

  return {
    stop: (reason) => control.requestStop(reason),
    hold: sounds.hold,
    pause: (on) => control.set('pauseWanted', on && state === 'rolling' ? 1 : 0),
    keep(keep) {
      if (!threads?.keep(keep))
        emit({ type: 'kept', kept: { ok: false, id: keep.id, why: 'Nothing is held of what rolls.' } });
    },
    closing: run(),
    piece: () => piece,
  };

  async function run(): Promise<TakeClosing> {
    mkdirSync(order.ledgerFolder, { recursive: true });
    const writer = openLedgerStream(order.ledgerFolder, {
      takeId: order.takeId,
      recipe: order.recipe,
      game: order.game,
      source: order.source,
      machine: order.machine,
      origin: order.machine.origin,
      clock: order.clock,
      rate,
      startedAt: new Date().toISOString(),
      file: order.filePath,
      identity: order.identity,
      enginePid: process.pid,
      engineSocket,
    });
    const watch = order.source.kind === 'window' ? await followWindow(order.source, control, lines.log) : null;
    if (order.unfiled) control.set('driveDone', 1);
    const group = startThreads(threadNames(), { order, memory }, waitedFor(), {
      log: lines.log,
      failed: onThreadFailed,
      kept: (kept) => emit({ type: 'kept', kept }),
      stripe(stripe, path) {
        keptStripes.push({ stripe, path, identity: identityOfPath(path) });
      },
      part(part) {
        parts.push(part);
        emit({ type: 'part', takeId: order.takeId, part });
      },
    });
    threads = group;
    try {
      const ready = await group.ready;
      const baseline =
        order.clock === 'real' && order.baselineS > 0
          ? await runBaseline(order, control, memory.gameTimes, (leftS) => {
              state = 'baseline';
              baselineLeftS = leftS;
              emitLive(null);
            })
          : null;
      return await roll(group, ready, writer, baseline);
    } finally {
      control.set('failed', 1);
      commandGame(control, 'quit');
      await group.stop();
      watch?.stop();
      lines.flush();
    }
  }

  /** A take ends when its files are closed. */
  function waitedFor(): ThreadName[] {
    const own = order.clock === 'real' && order.recipe.camera?.where === 'own-file';
    const names: ThreadName[] = ['picker', 'encode', 'pack'];
    if (!order.unfiled) names.push('drive', ...stripesNamed(memory.stripes.length));
    if (own) names.push('camera');
    // What was asked to be kept is written to its end.
    if (order.hindsight) names.push('keep');
    return names;
  }

  function threadNames(): ThreadName[] {
    const names: ThreadName[] = ['pack', 'encode', 'picker'];
    if (!order.unfiled) names.push('drive', ...stripesNamed(memory.stripes.length));
    if (order.hindsight) names.push('keep');
    if (!passesThrough(order.game, order.recipe)) names.push('size');
    if (order.clock === 'real') names.push(source.threads.pictures, ...source.threads.helpers);
    names.push(...soundThreads(order, memory));
    if (order.clock === 'real' && order.recipe.camera) names.push('camera');
    return names;
  }

  /** What a thread that has failed would have said is said for it, so that no other thread waits for it. */
  function onThreadFailed(name: ThreadName, text: string): void {
    failure ??= text.split('\n')[0] ?? `The ${name} thread failed.`;
    lines.log('error', `The ${name} thread failed: ${text}`);
    control.set('failed', 1);
    if (name in doneFlags) control.set(doneFlags[name as keyof typeof doneFlags], 1);
    control.requestStop('error');
  }

  async function roll(
    group: ThreadGroup,
    ready: Map<ThreadName, ThreadReady>,
    writer: LedgerStreamWriter,
    baseline: readonly number[] | null,
  ): Promise<TakeClosing> {
    const meter = createLoadMeter(order, memory, control, {
      game: (source.grabbed ? [] : [source.threads.pictures, ...source.threads.helpers, 'sound' as const]).flatMap(
        (name) => ready.get(name)?.threadId ?? [],
      ),
      size: ready.get('size')?.threadId ?? null,
      pack: ready.get('pack')?.threadId ?? null,
      encoder: ready.get('encode')?.encoderThreadIds ?? [],
    });
    if (order.clock === 'real' && control.get('stop') === 0) dueZeroUs = startGameForTake(control);
    const begunUs = nowUs();
    const elapsedUs = () => (dueZeroUs ? clock.now() : nowUs() - begunUs);
    const settler = createSettler({ rate, control, ledger, writer, meter, counter, elapsedUs });
    const recorded = createRecordedRun(baseline ? order.baselineS : 0);
    const gameTimes = openSampleLog(memory.gameTimes);
    const memoryBytes = createEvenSamples();
    let gameTimesSeen = gameTimes.count();
    let beforeZero = order.clock === 'real';
    let ledgerTold = false;
    state = 'rolling';
    control.set('ready', 1);
    let paused = false;
    const timer = setInterval(() => {
      if (beforeZero && nowUs() >= dueZeroUs) {
        beforeZero = false;
        meter.read(0);
      }
      const fresh = gameTimes.since(gameTimesSeen);
      gameTimesSeen = fresh.count;
      recorded.add(fresh.values);
      meter.sample();
      // What was used in a pause says nothing of the second around it.
      if (paused && clock.pausedSinceUs() === null) meter.read(0);
      paused = clock.pausedSinceUs() !== null;
      if (control.get('pickerDone') && state === 'rolling') state = 'closing';
      settler.settle(false);
      memoryBytes.add(process.memoryUsage.rss());
      const trouble = writer.trouble();
      if (trouble && !ledgerTold) {
        ledgerTold = true;
        lines.log(
          'error',
          `The ledger cannot be written: ${trouble}. The footage goes on; rows wait and are tried again.`,
        );
      }
      emitLive(settler.lastSecond());
    }, tickMs);
    const path = await endedInTime(group.done).finally(() => clearInterval(timer));
    const wallUs = clock.now();
    settler.settle(true);
    writer.end();
    if (writer.lostRows())
      lines.log('error', `${writer.lostRows()} rows of the ledger could not be written: ${writer.trouble() ?? ''}`);
    state = 'closing';
    emitLive(settler.lastSecond());
    if (baseline?.length && recorded.timesMs().length) piece = { without: baseline, with: recorded.timesMs() };
    return closingOf(path, wallUs, memoryBytes.values());
  }

  function closingOf(path: string, wallUs: number, memoryBytes: number[]): TakeClosing {
    const pieces = piece ? [...earlier, piece] : [];
    const together = (side: keyof GamePiece): GameRun | null =>
      pieces.length ? gameRunOf(pieces.flatMap((one) => one[side])) : null;
    const end: TakeEnd = failure ? 'error' : endOf[control.reason()];
    const nothing = control.get('dueIssued') === 0 ? nothingRecorded : null;
    const lateness = ascending(openSampleLog(memory.lateness).since(0).values);
    const closing: TakeClosing = {
      takeId: order.takeId,
      end,
      endText: failure ?? endTexts[end] ?? nothing,
      filePath: parts.length > 1 ? order.filePath : path,
      movedIdentity: parts.length > 1 || path === order.filePath ? null : identityOfPath(path),
      keptStripes,
      parts: parts.length > 1 ? partsEndingWith(parts, path) : [],
      closedWell: control.get('driveError') === 0 && failure === null,
      presented: control.get('presented'),
      passedOver: control.get('passedOver'),
      notReached: control.get('notReached'),
      baseline: together('without'),
      recorded: together('with'),
      pairs: pieces.length,
      wallUs,
      memoryBytes,
      latenessUs: lateness.length
        ? {
            median: percentileOfSorted(lateness, 0.5),
            p95: percentileOfSorted(lateness, 0.95),
            worst: lateness[lateness.length - 1] ?? 0,
          }
        : null,
      silenceSamples: Array.from(new Float64Array(memory.silence).slice(0, order.recipe.lanes.length)),
      sounds: sounds.reports(),
      camera: cameraReport(order, control),
      cuts: clock.cuts(),
    };
    try {
      writeDurably(join(order.ledgerFolder, ledgerNames.closing), JSON.stringify(closing));
    } catch (error) {
      // The server is told by message too; only a start after both have died would miss it, and rescues then.
      lines.log('warn', `What the recorder says of the take could not be stored: ${errorText(error)}`);
    }
    return closing;
  }

  /** Waits for the threads as long as anything gets on; when nothing does after a stop, they are told to give up. */
  async function endedInTime(done: Promise<string>): Promise<string> {
    const figures = () =>
      [
        control.figure('drivenBytes'),
        control.figure('savedBytes'),
        control.get('encoded'),
        control.get('keptSteps'),
      ].join();
    let before = '';
    let stillMs = 0;
    // One promise for the whole take: racing it anew every half second would keep something of each race until the end.
    return new Promise((resolve, reject) => {
      const look = (): void => {
        const now = figures();
        stillMs = control.get('stop') === 0 || now !== before ? 0 : stillMs + lookMs;
        before = now;
        if (stillMs === closingPatienceMs) {
          lines.log('error', 'The recorder’s threads did not end in time and were told to give up.');
          failure ??= 'The recorder could not close the take in time.';
          control.set('failed', 1);
        }
        if (stillMs <= closingPatienceMs + givingUpMs) return;
        clearInterval(timer);
        reject(new Error('The recorder’s threads did not end; what is on the drive is rescued.'));
      };
      const timer = setInterval(look, lookMs);
      done.finally(() => clearInterval(timer)).then(resolve, reject);
    });
  }

  function held(): Held | null {
    if (!order.hindsight) return null;
    const { lengthS, where } = order.hindsight;
    return {
      ...{ lengthS, where, bytes: control.figure('heldBytes'), gaps: control.get('heldGaps') },
      heldS: control.figure('heldFrames') / framesPerSecond(rate),
    };
  }

  function emitLive(second: SecondRow | null): void {
    const plannedUs = dueUs(rate, order.dueFrames);
    const onClockUs = Math.max(0, dueZeroUs ? clock.now() : 0);
    const pausedSinceUs = clock.pausedSinceUs();
    const elapsedUs = order.clock === 'real' ? onClockUs : dueUs(rate, control.get('dueIssued'));
    emit({
      type: 'live',
      live: {
        takeId: order.takeId,
        state,
        lengthS: order.openEnd ? null : plannedUs / 1e6,
        elapsedUs: Math.min(elapsedUs, state === 'closing' ? control.figure('endUs') : plannedUs),
        baselineLeftS,
        due: control.get('dueIssued'),
        ...counter.snapshot(),
        bytesWritten: control.figure('drivenBytes'),
        durableBytes: control.figure('durableBytes'),
        bytesPerSecond: second?.bytesWritten ?? 0,
        bytesQueued: control.figure('handedBytes') - control.figure('drivenBytes'),
        gameFps: second?.game.meanMs ? 1000 / second.game.meanMs : null,
        gameSlowestMs: second?.game.slowestMs ?? null,
        loads: loadsOf(second),
        lanePeakDbfs: second?.lanePeakDbfs ?? [],
        recorderCores: second?.processor?.recorder ?? null,
        held: held(),
        pausedS: pausedSinceUs === null ? null : (nowUs() - pausedSinceUs) / 1e6,
        cuts: clock.cuts(),
        parts: 1 + control.get('partsTurned'),
        processor: second?.processor ?? null,
        roomBytes: control.figure('roomBytes') < 0 ? null : control.figure('roomBytes'),
        laneLufs: sounds.laneLufs(),
        sounds: sounds.levels(),
        camera: order.recipe.camera && order.clock === 'real' ? (control.get('cameraAway') ? 'away' : 'alive') : null,
      },
    });
  }
}

/** The last file may lie elsewhere than it was begun, where its drive is gone. */
function partsEndingWith(parts: readonly PartFile[], path: string): PartFile[] {
  const last = parts.at(-1);
  if (!last || last.path === path) return [...parts];
  return [...parts.slice(0, -1), { path, identity: identityOfPath(path), startUs: last.startUs }];
}

const loadsOf = (second: SecondRow | null) =>
  Object.fromEntries(
    stationNames.map((name) => [name, second?.load[name] ?? { meanMs: null, busiestMs: null }]),
  ) as SecondRow['load'];
