import { ascending, encoderFacts, mean, percentileOfSorted, stallUs } from '@mellow/core';
import { isGrabbed, type SecondRow, type StationLoad, type TakeOrder } from '@mellow/model';
import type { Control } from '../shared/control';
import { openSampleLog, type SampleLogMemory } from '../shared/sampleLog';
import type { TakeMemory } from '../shared/takeMemory';
import { systemFacts, type ThreadTimes } from '../system/systemFacts';

export interface LoadMeter {
  /** Notes the encoder's times now, so that its last moments are known after its threads ended. */
  sample(): void;
  /** What happened since the last call, as the row of one second. */
  read(second: number): SecondRow;
}

interface ThreadIds {
  /** Threads of the source: what the game itself uses. */
  game: readonly number[];
  size: number | null;
  pack: number | null;
  encoder: readonly number[];
}

/** Processor seconds a group of threads used since the last call; the last known reading outlives the threads. */
function usageOf(ids: readonly number[]) {
  let before = systemFacts.threadTimes(ids);
  let now = before;
  return {
    sample: (): void => void (now = systemFacts.threadTimes(ids) ?? now),
    take(): ThreadTimes | null {
      const used = before && now ? { runS: now.runS - before.runS, waitS: waited(now.waitS, before.waitS) } : null;
      before = now;
      return used;
    },
  };
}

function waited(now: number | null, before: number | null): number | null {
  return now === null || before === null ? null : now - before;
}

/** Seconds of processor this process has used. */
const ownProcessS = (): number => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
};

const peakDbfs = (peak: number): number | null => (peak > 1e-5 ? 20 * Math.log10(peak) : null);

/**
 * Reads what the threads measured. Encode load = processor time of the encoder's own threads per frame / the parallelism
 * it can use; Size and Pack: processor time of their thread per frame. Time spent in a call, or waiting for a processor,
 * would say nothing of a station (docs/model.md, "Loads").
 */
export function createLoadMeter(order: TakeOrder, memory: TakeMemory, control: Control, threads: ThreadIds): LoadMeter {
  const parallelism = Math.max(1, Math.min(threads.encoder.length, order.machine.cores));
  const meters = Object.fromEntries(
    Object.entries(memory.stationTimes).map(([name, log]) => [name, meterOf(log)]),
  ) as Record<keyof TakeMemory['stationTimes'], ReturnType<typeof meterOf>>;
  const gameMeter = meterOf(memory.gameTimes);
  const peaks = new Float64Array(memory.lanePeaks);
  const one = (id: number | null) => usageOf(id === null ? [] : [id]);
  const usage = {
    encoder: usageOf(threads.encoder),
    game: usageOf(threads.game),
    size: one(threads.size),
    pack: one(threads.pack),
  };
  // A block works beside the processor: what its driver's threads use says nothing of it, so it is measured after the take.
  const inSoftware = encoderFacts[order.recipe.encode.encoder].place === 'software';
  const grabbed = isGrabbed(order.source);
  /** Processor time of the game that is recorded, where its process is known. */
  const playedS = (): number | null => {
    const id = control.get('windowProcess');
    return grabbed && id ? systemFacts.processS(id) : null;
  };
  let played = playedS();
  let own = ownProcessS();
  let machine = systemFacts.machineBusyS();
  let pressure = systemFacts.pressureUs();
  let givenBefore = 0;
  let bytesBefore = 0;
  let atMs = performance.now();
  let sizedBefore = 0;
  const sample = (): void => Object.values(usage).forEach((group) => group.sample());
  return {
    sample,
    read(second) {
      const elapsedS = Math.max(0.001, (performance.now() - atMs) / 1000);
      atMs = performance.now();
      sample();
      const ownNow = ownProcessS();
      const machineNow = systemFacts.machineBusyS();
      const pressureNow = systemFacts.pressureUs();
      // Frames that went in: an encoder that works on many at once lets them out in bursts.
      const given = control.get('encoded') + Math.max(0, control.get('encoderHolds'));
      const frames = Math.max(0, given - givenBefore);
      givenBefore = Math.max(given, givenBefore);
      const sized = control.get('sized') - sizedBefore;
      sizedBefore += sized;
      // Work of a second in which none went in is counted with the next that did.
      const encoder = frames ? usage.encoder.take() : null;
      const [sizeUsed, packUsed] = [usage.size.take(), usage.pack.take()];
      const gameS = usage.game.take()?.runS ?? 0;
      const playedNow = playedS();
      // The game is another process: without its own figure, what is ours and what is others' cannot be told apart.
      const otherGameS = playedNow === null || played === null ? null : playedNow - played;
      played = playedNow;
      const ownS = ownNow - own;
      const processor =
        machine !== null && machineNow !== null && (otherGameS !== null || !grabbed)
          ? {
              game: (gameS + (otherGameS ?? 0)) / elapsedS,
              recorder: Math.max(0, ownS - gameS) / elapsedS,
              others: Math.max(0, machineNow - machine - ownS - (otherGameS ?? 0)) / elapsedS,
              pressureShare:
                pressure !== null && pressureNow !== null ? (pressureNow - pressure) / 1e6 / elapsedS : null,
            }
          : null;
      [own, machine, pressure] = [ownNow, machineNow, pressureNow];
      const bytes = control.figure('drivenBytes');
      const bytesWritten = bytes - bytesBefore;
      bytesBefore = bytes;
      const driveTimes = meters.drive();
      // A stall is no load: the game stands still by itself, and the fates tell so.
      const gameTimes = gameMeter().filter((ms) => ms < stallUs / 1000);
      const lanePeakDbfs = order.recipe.lanes.map((_, i) => peakDbfs(peaks[i] ?? 0));
      peaks.fill(0);
      const latencyMs = control.figure('driveLatencyUs') / 1000;
      control.setFigure('driveLatencyUs', 0);
      const driveMs = driveTimes.length ? driveTimes.reduce((sum, ms) => sum + ms, 0) / elapsedS : 0;
      return {
        second,
        due: control.get('dueIssued'),
        load: {
          game: figures(gameTimes),
          capture: figures(meters.capture()),
          size: perFrame(sizeUsed, sized, 1),
          encode: perFrame(inSoftware ? encoder : null, frames, parallelism),
          pack: perFrame(packUsed, frames, 1),
          drive: { meanMs: driveMs, busiestMs: driveMs, frames: null },
        },
        processor,
        encodeWaitingS: encoder && encoder.waitS !== null ? encoder.waitS / elapsedS : null,
        bytesWritten,
        bytesQueued: control.figure('handedBytes') - bytes,
        driveLatencyMs: latencyMs,
        lanePeakDbfs,
        game: {
          frames: gameTimes.length,
          meanMs: gameTimes.length ? mean(gameTimes) : null,
          slowestMs: gameTimes.length ? Math.max(...gameTimes) : null,
        },
      };
    },
  };
}

/** Processor time a frame; it is read once a second, so the busiest is that of the second. */
function perFrame(used: ThreadTimes | null, frames: number, divisor: number): StationLoad {
  const ms = used && frames > 0 ? (used.runS * 1000) / frames / divisor : null;
  return { meanMs: ms, busiestMs: ms, frames };
}

function meterOf(memory: SampleLogMemory): () => number[] {
  const log = openSampleLog(memory);
  let seen = log.count();
  return () => {
    const fresh = log.since(seen);
    seen = fresh.count;
    return fresh.values;
  };
}

function figures(values: readonly number[]): StationLoad {
  if (!values.length) return { meanMs: null, busiestMs: null, frames: 0 };
  return { meanMs: mean(values), busiestMs: percentileOfSorted(ascending(values), 0.99), frames: values.length };
}
