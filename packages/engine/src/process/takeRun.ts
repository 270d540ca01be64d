import { mkdirSync } from 'node:fs';
import type { EngineEvent, KeepOrder, SecondRow, SoundSource, TakeClosing, TakeOrder } from '@mellow/model';
import { identityOfPath } from '../files/identity';
import { openLedgerStream, type LedgerStreamWriter } from '../ledger/streamWriter';
import { followWindow } from '../screen/windowWatch';
import type { ControlFlag, StopReason } from '../shared/control';
import { nowUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import type { ThreadName } from '../shared/threadNames';
import { endedInTime, guestsInTime } from './endedInTime';
import { commandGame, createRecordedRun, runBaseline, startGameForTake } from './gameRuns';
import { createLoadMeter, type LoadMeter } from './loadMeter';
import { createEvenSamples } from './samples';
import { createSettler, type Settler } from './settler';
import { closeTake } from './takeClosing';
import { liveEvent } from './takeLive';
import { failTake, openTakeRecord, type GamePiece, type TakeRecord } from './takeState';
import { takeThreads } from './takeThreads';
import { startThreads, type ThreadGroup, type ThreadReady } from './threadGroup';

export type { GamePiece } from './takeState';

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

const tickMs = 200;
const doneFlags: Partial<Record<ThreadName, ControlFlag>> = {
  picker: 'pickerDone',
  size: 'sizeDone',
  encode: 'encodeDone',
  pack: 'packDone',
  drive: 'driveDone',
};
const lostFlags: Partial<Record<ThreadName, ControlFlag>> = { sound: 'soundLost', hear: 'hearLost' };

const EIO = 5;

type Emit = (event: EngineEvent) => void;

/**
 * Makes one take up to its closed container: baseline, warm-up, rolling, closing. Reading the file back is another
 * process's work. Everything that is told goes out as events.
 */
export function runTake(
  order: TakeOrder,
  engineSocket: string,
  emit: Emit,
  earlier: readonly GamePiece[] = [],
): TakeRun {
  const take = openTakeRecord(withOwner(order, engineSocket), (level, text) => emit({ type: 'log', level, text }));
  const { control } = take;
  const keeping = createKeeping(emit);
  let threads: ThreadGroup | null = null;
  return {
    stop: (reason) => control.requestStop(reason),
    hold: take.sounds.hold,
    pause: (on) => control.set('pauseWanted', on && take.state === 'rolling' ? 1 : 0),
    keep: (keep) => keeping.ask(keep, threads),
    closing: run(),
    piece: () => take.piece,
  };

  async function run(): Promise<TakeClosing> {
    mkdirSync(order.ledgerFolder, { recursive: true });
    const writer = openLedgerOf(take, engineSocket);
    const watch = order.source.kind === 'window' ? await followWindow(order.source, control, take.lines.log) : null;
    if (order.unfiled) control.set('driveDone', 1);
    const group = startGroup(take, emit, keeping);
    threads = group;
    try {
      const ready = await group.ready;
      const baseline = await playAlone(take, emit);
      return await roll(take, { group, ready, writer, baseline, earlier, emit });
    } finally {
      control.set('failed', 1);
      commandGame(control, 'quit');
      keeping.refuseAll('The take has ended.');
      await group.stop();
      watch?.stop();
      take.lines.flush();
    }
  }
}

/** Pieces that wait on a drive name the recorder they belong to. */
function withOwner(order: TakeOrder, owner: string): TakeOrder {
  return order.hindsight ? { ...order, hindsight: { ...order.hindsight, owner } } : order;
}

/** Wishes to keep what was just played: each is answered, whatever becomes of the thread that holds it. */
function createKeeping(emit: Emit) {
  const open = new Set<string>();
  const refuse = (id: string, why: string): void => {
    open.delete(id);
    emit({ type: 'kept', kept: { ok: false, id, why } });
  };
  return {
    ask(keep: KeepOrder, threads: ThreadGroup | null): void {
      open.add(keep.id);
      if (!threads?.keep(keep)) refuse(keep.id, 'Nothing is held of what rolls.');
    },
    answered(kept: Extract<EngineEvent, { type: 'kept' }>['kept']): void {
      if (open.delete(kept.id)) emit({ type: 'kept', kept });
    },
    refuseAll(why: string): void {
      for (const id of [...open]) refuse(id, why);
    },
  };
}

function openLedgerOf({ order }: TakeRecord, engineSocket: string): LedgerStreamWriter {
  return openLedgerStream(order.ledgerFolder, {
    takeId: order.takeId,
    recipe: order.recipe,
    game: order.game,
    source: order.source,
    machine: order.machine,
    origin: order.machine.origin,
    clock: order.clock,
    rate: order.recipe.rate,
    startedAt: new Date().toISOString(),
    file: order.filePath,
    identity: order.identity,
    enginePid: process.pid,
    engineSocket,
  });
}

function startGroup(take: TakeRecord, emit: Emit, keeping: ReturnType<typeof createKeeping>): ThreadGroup {
  const { order, memory, control, lines, troubles } = take;
  const { names, waitFor, neededToBegin } = takeThreads(order, memory, take.source);
  return startThreads(names, { order, memory }, waitFor, neededToBegin, {
    log: lines.log,
    /** What a thread that has failed would have said is said for it, so that no other thread waits for it. */
    failed(name, text) {
      failTake(take, text);
      lines.log('error', `The ${name} thread failed: ${text}`);
      control.set('failed', 1);
      const flag = doneFlags[name];
      if (flag) control.set(flag, 1);
      // What it had not written is not there, whatever the container says.
      if (name === 'drive') control.set('driveError', EIO);
      control.requestStop('error');
    },
    broken(text) {
      failTake(take, text);
      lines.log('error', `The take has to end: ${text}`);
    },
    guest(name, why) {
      const flag = lostFlags[name];
      if (flag) control.set(flag, why === null ? 0 : 1);
      if (name === 'keep' && why !== null) keeping.refuseAll(`What holds the last minutes has failed: ${why}`);
      const text = troubles.guest(name, why);
      if (text) lines.log(why === null ? 'info' : 'warn', text);
    },
    trouble(name, text) {
      troubles.told(name, text);
      if (name === 'keep') lines.log(text === null ? 'info' : 'error', text ?? 'The last minutes are held again.');
    },
    kept: keeping.answered,
    stripe(stripe, path) {
      take.keptStripes.push({ stripe, path, identity: identityOfPath(path) });
    },
    part(part) {
      take.parts.push(part);
      emit({ type: 'part', takeId: order.takeId, part });
    },
  });
}

/** The game without recording; null where it is not asked for. */
async function playAlone(take: TakeRecord, emit: Emit): Promise<readonly number[] | null> {
  const { order, control, memory } = take;
  if (order.clock !== 'real' || order.baselineS === 0) return null;
  return runBaseline(order, control, memory.gameTimes, (leftS) => {
    take.state = 'baseline';
    take.baselineLeftS = leftS;
    emit(liveEvent(take, null));
  });
}

interface RollGiven {
  group: ThreadGroup;
  ready: Map<ThreadName, ThreadReady>;
  writer: LedgerStreamWriter;
  baseline: readonly number[] | null;
  earlier: readonly GamePiece[];
  emit: Emit;
}

async function roll(take: TakeRecord, given: RollGiven): Promise<TakeClosing> {
  const { order, control, clock, lines } = take;
  const { group, writer, baseline, emit } = given;
  const meter = meterOf(take, given.ready);
  if (order.clock === 'real' && control.get('stop') === 0) take.dueZeroUs = startGameForTake(order, control);
  const begunUs = nowUs();
  const elapsedUs = (): number => (take.dueZeroUs ? clock.now() : nowUs() - begunUs);
  const { rate } = order.recipe;
  const { ledger, counter } = take;
  const settler = createSettler({ rate, control, ledger, writer, meter, counter, elapsedUs });
  const recorded = createRecordedRun(baseline ? order.baselineS : 0, order.warmUpS);
  const memoryBytes = createEvenSamples();
  const tick = createTick(take, { meter, settler, writer, recorded: recorded.add });
  take.state = 'rolling';
  control.set('ready', 1);
  const timer = setInterval(() => {
    memoryBytes.add(process.memoryUsage.rss());
    emit(liveEvent(take, tick()));
  }, tickMs);
  const path = await endedInTime(group.done, control, () => {
    lines.log('error', 'The recorder’s threads did not end in time and were told to give up.');
    failTake(take, 'The recorder could not close the take in time.');
  }).finally(() => clearInterval(timer));
  const wallUs = clock.now();
  settler.settle(true);
  writer.end();
  if (writer.lostRows())
    lines.log('error', `${writer.lostRows()} rows of the ledger could not be written: ${writer.trouble() ?? ''}`);
  take.state = 'closing';
  emit(liveEvent(take, settler.lastSecond()));
  if (!(await guestsInTime(group.guestsDone, control)))
    lines.log(
      'warn',
      'What is kept or filed beside the take got on no more and was left as it is; the take is closed.',
    );
  if (baseline?.length && recorded.timesMs().length) take.piece = { without: baseline, with: recorded.timesMs() };
  return closeTake(take, path, wallUs, memoryBytes.values(), given.earlier);
}

function meterOf({ order, memory, control, source }: TakeRecord, ready: Map<ThreadName, ThreadReady>): LoadMeter {
  return createLoadMeter(order, memory, control, {
    game: (source.grabbed ? [] : [source.threads.pictures, ...source.threads.helpers, 'sound' as const]).flatMap(
      (name) => ready.get(name)?.threadId ?? [],
    ),
    size: ready.get('size')?.threadId ?? null,
    pack: ready.get('pack')?.threadId ?? null,
    encoder: ready.get('encode')?.encoderThreadIds ?? [],
  });
}

interface TickGiven {
  meter: LoadMeter;
  settler: Settler;
  writer: LedgerStreamWriter;
  recorded: (timesMs: readonly number[]) => void;
}

/** What is done five times a second while a take rolls. @returns the last second that is over, each time */
function createTick(take: TakeRecord, { meter, settler, writer, recorded }: TickGiven): () => SecondRow | null {
  const { order, control, clock, memory } = take;
  const gameTimes = openSampleLog(memory.gameTimes);
  let gameTimesSeen = gameTimes.count();
  let beforeZero = order.clock === 'real';
  let ledgerTold = false;
  let paused = false;
  return () => {
    if (beforeZero && nowUs() >= take.dueZeroUs) {
      beforeZero = false;
      meter.read(0);
    }
    const fresh = gameTimes.since(gameTimesSeen);
    gameTimesSeen = fresh.count;
    recorded(fresh.values);
    meter.sample();
    // What was used in a pause says nothing of the second around it.
    if (paused && clock.pausedSinceUs() === null) meter.read(0);
    paused = clock.pausedSinceUs() !== null;
    if (control.get('pickerDone') && take.state === 'rolling') take.state = 'closing';
    settler.settle(false);
    const trouble = writer.trouble();
    if (trouble && !ledgerTold) {
      ledgerTold = true;
      take.lines.log(
        'error',
        `The ledger cannot be written: ${trouble}. The footage goes on; rows wait and are tried again.`,
      );
    }
    return settler.lastSecond();
  };
}
