import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ascending, concatColumns, dueUs, gameRunOf, passesThrough, percentileOfSorted } from '@mellow/core';
import {
  causes,
  fates,
  stationNames,
  type Cause,
  type EngineEvent,
  type Fate,
  type GameRun,
  type SecondRow,
  type TakeEnd,
  type TakeOrder,
  type TakeResult,
  type TakeState,
} from '@mellow/model';
import { slotsPerSecond, warmUpUs } from '@mellow/practice';
import { openControl, type StopReason } from '../shared/control';
import { ledgerRingRows, openLedgerRing, rowStates } from '../shared/ledgerRing';
import { nowUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import { createTakeMemory } from '../shared/takeMemory';
import { gameModes } from '../shared/gameModes';
import { closeTake } from './closeTake';
import { copyRows, ledgerNames, openLedgerWriter } from './ledgerWriter';
import { createLoadMeter } from './loadMeter';
import { startThreads, type ThreadName } from './threadGroup';

export interface TakeRun {
  stop(reason: StopReason): void;
  result: Promise<TakeResult>;
}

const tickMs = 200;
/** A slow drive may need so long for what waits for it. */
const closingPatienceMs = 60_000;
const baselineWarmUpUs = 1_500_000;
const endOf: Record<StopReason, TakeEnd> = {
  none: 'length',
  length: 'length',
  stopped: 'stopped',
  'server-gone': 'server-gone',
  'drive-full': 'drive-full',
  'drive-gone': 'drive-gone',
  'drive-error': 'drive-error',
  error: 'error',
};
const endTexts: Partial<Record<TakeEnd, string>> = {
  'server-gone': 'The application ended while the take was rolling; the recorder closed the take by itself.',
  'drive-full': 'The drive is full, so the take was ended.',
  'drive-gone':
    'The folder of the drive disappeared while the take was rolling. All that was recorded lies in the data folder now.',
  'drive-error': 'The drive refused to take more bytes.',
};

/** Makes one take: baseline, warm-up, rolling, closing. Everything that is told goes out as events. */
export function runTake(order: TakeOrder, emit: (event: EngineEvent) => void): TakeRun {
  const memory = createTakeMemory(order);
  const control = openControl(memory.control);
  const ledger = openLedgerRing(memory.ledger);
  const { rate } = order.recipe;
  let failure: string | null = null;
  let state: TakeState = 'preparing';
  let baselineLeftS = order.baselineS;
  let dueZeroUs = 0;

  const log = (level: 'info' | 'warn' | 'error', text: string): void => emit({ type: 'log', level, text });
  const live = liveCounter();

  return { stop: (reason) => control.requestStop(reason), result: run() };

  async function run(): Promise<TakeResult> {
    mkdirSync(order.ledgerFolder, { recursive: true });
    const writer = openLedgerWriter(order.ledgerFolder, {
      takeId: order.takeId,
      recipe: order.recipe,
      game: order.game,
      machine: order.machine,
      origin: order.machine.origin,
      clock: order.clock,
      rate,
      startedAt: new Date().toISOString(),
      file: order.filePath,
      enginePid: process.pid,
    });
    const scales = !passesThrough(order.game, order.recipe);
    const names: ThreadName[] = ['drive', 'pack', 'encode', 'picker'];
    if (scales) names.push('size');
    if (order.clock === 'real') names.push('game');
    const threads = startThreads(names, { order, memory }, ['picker', 'encode', 'pack', 'drive'], log, (name, text) => {
      failure ??= `The ${name} thread failed: ${text.split('\n')[0] ?? ''}`;
      log('error', `The ${name} thread failed: ${text}`);
      control.set('failed', 1);
      control.requestStop('error');
    });
    try {
      const ready = await threads.ready;
      let baseline: GameRun | null = null;
      if (order.clock === 'real' && order.baselineS > 0) baseline = await runBaseline();
      const meter = createLoadMeter(order, memory, control, {
        game: ready.get('game')?.threadId ?? null,
        size: ready.get('size')?.threadId ?? null,
        pack: ready.get('pack')?.threadId ?? null,
        encoder: ready.get('encode')?.encoderThreadIds ?? [],
      });
      if (control.get('stop') === 0) startGame();
      const gameTimes = openSampleLog(memory.gameTimes);
      let gameTimesSeen = gameTimes.count();
      const recordedTimes: number[] = [];
      let beforeZero = order.clock === 'real';
      state = 'rolling';
      control.set('ready', 1);
      const memoryBytes: number[] = [];
      const startedUs = nowUs();
      let settled = 0;
      let second = 0;
      let lastSecond: SecondRow | null = null;
      let nextSecondUs = (order.clock === 'real' ? dueZeroUs : startedUs) + 1e6;
      const settle = (everything: boolean): void => {
        const from = settled;
        const issued = control.get('dueIssued');
        while (settled < issued && (everything || isSettled(settled))) {
          live.count(ledger.get(settled, 'fate'), ledger.get(settled, 'cause'), Math.floor(dueUs(rate, settled) / 1e6));
          settled++;
        }
        control.set('settledRows', settled);
        const rows = copyRows((a, b, c, d) => ledger.copy(a, b, c, d), rate, from, settled);
        const secondOver = nowUs() >= nextSecondUs;
        pending.push(rows);
        if (secondOver || everything) {
          // What is left after the last whole second is too short to say something of loads.
          const tooShort = everything && second > 0 && nextSecondUs - nowUs() > 500_000;
          if (!tooShort) lastSecond = meter.read(second++);
          nextSecondUs += 1e6;
          writer.append(concatColumns(pending.splice(0)), tooShort ? null : lastSecond);
        }
        memoryBytes.push(process.memoryUsage.rss());
      };
      const pending: ReturnType<typeof copyRows>[] = [];
      const timer = setInterval(() => {
        if (beforeZero && nowUs() >= dueZeroUs) {
          beforeZero = false;
          meter.read(0);
        }
        const fresh = gameTimes.since(gameTimesSeen);
        gameTimesSeen = fresh.count;
        recordedTimes.push(...fresh.values);
        meter.sample();
        if (control.get('pickerDone') && state === 'rolling') state = 'closing';
        settle(false);
        emitLive(lastSecond);
      }, tickMs);
      const path = await endedInTime(threads.done);
      const wallUs = nowUs() - control.figure('dueZeroUs');
      clearInterval(timer);
      control.set('gameMode', gameModes.quit);
      settle(true);
      writer.end();
      state = 'closing';
      emitLive(lastSecond);
      const reason = control.reason();
      const end: TakeEnd = failure ? 'error' : endOf[reason];
      const nothing =
        control.get('dueIssued') === 0
          ? 'It was stopped before the first frame was due, so nothing was recorded.'
          : null;
      const stored = writer.all();
      const closed = closeTake({
        folder: order.ledgerFolder,
        filePath: path,
        rate,
        cores: order.machine.cores,
        stored,
        interrupted: control.get('driveError') !== 0 || failure !== null,
        presented: control.get('presented'),
        passedOver: control.get('passedOver'),
        notReached: control.get('notReached'),
        log,
      });
      const lateness = ascending(openSampleLog(memory.lateness).since(0).values);
      const result: TakeResult = {
        takeId: order.takeId,
        end,
        endText: failure ?? endTexts[end] ?? nothing,
        filePath: path,
        closedWell: control.get('driveError') === 0 && failure === null,
        ...closed,
        baseline,
        recorded: baseline ? recordedRun(recordedTimes, baseline.seconds) : null,
        wallUs,
        memoryBytes,
        latenessUs: lateness.length
          ? {
              median: percentileOfSorted(lateness, 0.5),
              p95: percentileOfSorted(lateness, 0.95),
              worst: lateness[lateness.length - 1] ?? 0,
            }
          : null,
      };
      const temporary = join(order.ledgerFolder, `${ledgerNames.result}.part`);
      writeFileSync(temporary, JSON.stringify(result));
      renameSync(temporary, join(order.ledgerFolder, ledgerNames.result));
      return result;
    } finally {
      control.set('failed', 1);
      control.set('gameMode', gameModes.quit);
      await threads.stop();
    }
  }

  /** Waits for the threads; when they do not end after a stop, they are told to give up, then given up on. */
  async function endedInTime(done: Promise<string>): Promise<string> {
    let stoppedMs = 0;
    for (;;) {
      const path = await Promise.race([done, new Promise<null>((resolve) => setTimeout(() => resolve(null), 500))]);
      if (path !== null) return path;
      if (control.get('stop') === 0) continue;
      stoppedMs += 500;
      if (stoppedMs === closingPatienceMs) {
        log('error', 'The recorder’s threads did not end in time and were told to give up.');
        failure ??= 'The recorder could not close the take in time.';
        control.set('failed', 1);
      }
      if (stoppedMs > closingPatienceMs + 10_000)
        throw new Error('The recorder’s threads did not end; what is on the drive is rescued.');
    }
  }

  /** A row is settled when it is lost, or its bytes are with the drive and a repeat knows its cause. */
  function isSettled(n: number): boolean {
    const rowState = ledger.state(n);
    if (rowState === rowStates.lost) return true;
    if (rowState !== rowStates.written) return control.get('dueIssued') - n > ledgerRingRows - 1024;
    return ledger.get(n, 'fate') !== fates.indexOf('repeat') || ledger.get(n, 'cause') !== 0;
  }

  async function runBaseline(): Promise<GameRun | null> {
    state = 'baseline';
    const times = openSampleLog(memory.gameTimes);
    const slots = slotsPerSecond(order.game);
    control.setFigure('gameStartSlot', Math.ceil(((warmUpUs - baselineWarmUpUs) * slots) / 1e6));
    control.setFigure('gameStartUs', nowUs() + 20_000);
    control.set('gameMode', gameModes.run);
    const beginMs = performance.now() + baselineWarmUpUs / 1000;
    const endMs = beginMs + order.baselineS * 1000;
    let from = -1;
    while (performance.now() < endMs && control.get('stop') === 0) {
      await new Promise((resolve) =>
        setTimeout(resolve, Math.min(100, Math.max(1, (from < 0 ? beginMs : endMs) - performance.now()))),
      );
      if (from < 0 && performance.now() >= beginMs) from = times.count();
      baselineLeftS = Math.max(0, (endMs - performance.now()) / 1000);
      emitLive(null);
    }
    const run = gameRunOf(times.since(Math.max(0, from)).values);
    control.set('gameMode', gameModes.idle);
    while (control.get('gameIdle') === 0 && control.get('failed') === 0)
      await new Promise((resolve) => setTimeout(resolve, 5));
    control.set('gameIdle', 0);
    return control.get('stop') ? null : run;
  }

  function startGame(): void {
    const startUs = nowUs() + 30_000;
    dueZeroUs = startUs + warmUpUs;
    if (order.clock === 'driven') return;
    control.setFigure('gameStartSlot', 0);
    control.setFigure('gameStartUs', startUs);
    control.setFigure('dueZeroUs', dueZeroUs);
    control.set('gameMode', gameModes.run);
  }

  /** Frame times of the same passage as the baseline's, while recording. */
  function recordedRun(values: readonly number[], seconds: number): GameRun | null {
    const picked: number[] = [];
    let elapsedMs = -warmUpUs / 1000;
    for (const ms of values) {
      elapsedMs += ms;
      if (elapsedMs > 0 && elapsedMs <= seconds * 1000) picked.push(ms);
    }
    return picked.length ? gameRunOf(picked) : null;
  }

  function emitLive(second: SecondRow | null): void {
    const elapsedUs =
      order.clock === 'real' ? Math.max(0, dueZeroUs ? nowUs() - dueZeroUs : 0) : dueUs(rate, control.get('dueIssued'));
    emit({
      type: 'live',
      live: {
        takeId: order.takeId,
        state,
        lengthS: dueUs(rate, order.dueFrames) / 1e6,
        elapsedUs: Math.min(elapsedUs, state === 'closing' ? control.figure('endUs') : dueUs(rate, order.dueFrames)),
        baselineLeftS,
        due: control.get('dueIssued'),
        ...live.snapshot(),
        bytesWritten: control.figure('drivenBytes'),
        durableBytes: control.figure('durableBytes'),
        bytesPerSecond: second?.bytesWritten ?? 0,
        bytesQueued: control.figure('handedBytes') - control.figure('drivenBytes'),
        gameFps: second?.game.meanMs ? 1000 / second.game.meanMs : null,
        gameSlowestMs: second?.game.slowestMs ?? null,
        loads: Object.fromEntries(
          stationNames.map((name) => [name, second?.load[name] ?? { meanMs: null, busiestMs: null }]),
        ) as never,
        lanePeakDbfs: second?.lanePeakDbfs ?? [],
        recorderCores: second?.processor?.recorder ?? null,
      },
    });
  }
}

/** Counts of fates and causes as rows settle, and those of the last minute by second. */
function liveCounter() {
  const fateCounts = Object.fromEntries(fates.map((name) => [name, 0])) as Record<Fate, number>;
  const causeCounts = Object.fromEntries(causes.map((name) => [name, 0])) as Record<Cause, number>;
  const bySecond: [number, number, number, number, number][] = [];
  const column: Partial<Record<Fate, number>> = {
    new: 0,
    repeat: 1,
    'capture-miss': 2,
    'encode-miss': 3,
    'write-miss': 4,
  };
  return {
    count(fateIndex: number, causeIndex: number, second: number) {
      const fate = fates[fateIndex] ?? 'pending';
      const cause = causes[causeIndex] ?? 'none';
      fateCounts[fate]++;
      causeCounts[cause]++;
      while (bySecond.length <= second) bySecond.push([0, 0, 0, 0, 0]);
      const row = bySecond[second];
      const at = column[fate];
      if (row && at !== undefined) row[at] = (row[at] ?? 0) + 1;
    },
    snapshot: () => ({ fates: { ...fateCounts }, causes: { ...causeCounts }, lastMinute: bySecond.slice(-60) }),
  };
}
