import { ascending, mean, percentileOfSorted, stallUs } from '@mellow/core';
import type { SecondRow, TakeOrder } from '@mellow/model';
import type { Control } from '../shared/control';
import { openSampleLog, type SampleLogMemory } from '../shared/sampleLog';
import type { TakeMemory } from '../shared/takeMemory';
import { machineBusyS, ownProcessS, pressureUs, threadTimes } from './processorTimes';

export interface LoadMeter {
  /** Notes the encoder's times now, so that its last moments are known after its threads ended. */
  sample(): void;
  /** What happened since the last call, as the row of one second. */
  read(second: number): SecondRow;
  /** Peaks of the lanes since the last row, dBFS. */
  lanePeaks(): (number | null)[];
}

interface ThreadIds {
  game: number | null;
  encoder: readonly number[];
}

const peakDbfs = (peak: number): number | null => (peak > 1e-5 ? 20 * Math.log10(peak) : null);

/**
 * Reads what the threads measured. Encode load = processor time of the encoder's own threads per frame
 * / the parallelism it can use; time spent in a call would say nothing (docs/model.md, "Load is not delay").
 */
export function createLoadMeter(order: TakeOrder, memory: TakeMemory, control: Control, threads: ThreadIds): LoadMeter {
  const parallelism = Math.max(1, Math.min(threads.encoder.length, order.machine.cores));
  const meters = Object.fromEntries(Object.entries(memory.stationTimes).map(([name, log]) => [name, meterOf(log)])) as Record<keyof TakeMemory['stationTimes'], ReturnType<typeof meterOf>>;
  const gameMeter = meterOf(memory.gameTimes);
  const peaks = new Float64Array(memory.lanePeaks);
  let encoder = threadTimes(threads.encoder);
  let game = threads.game === null ? null : threadTimes([threads.game]);
  let own = ownProcessS();
  let machine = machineBusyS();
  let pressure = pressureUs();
  let encodedBefore = 0;
  let bytesBefore = 0;
  let atMs = performance.now();
  let lastPeaks: (number | null)[] = order.recipe.lanes.map(() => null);
  let sampled = encoder;
  const sample = (): void => void (sampled = threadTimes(threads.encoder) ?? sampled);
  return {
    sample,
    lanePeaks: () => lastPeaks,
    read(second) {
      const elapsedS = Math.max(0.001, (performance.now() - atMs) / 1000);
      atMs = performance.now();
      sample();
      const encoderNow = sampled;
      const gameNow = threads.game === null ? null : threadTimes([threads.game]);
      const ownNow = ownProcessS();
      const machineNow = machineBusyS();
      const pressureNow = pressureUs();
      const encoded = control.get('encoded');
      const frames = encoded - encodedBefore;
      encodedBefore = encoded;
      const encoderRunS = encoder && encoderNow ? encoderNow.runS - encoder.runS : null;
      const waitS = encoder && encoderNow ? encoderNow.waitS - encoder.waitS : null;
      const gameS = game && gameNow ? gameNow.runS - game.runS : 0;
      const ownS = ownNow - own;
      const processor =
        machine !== null && machineNow !== null
          ? {
              game: gameS / elapsedS,
              recorder: Math.max(0, ownS - gameS) / elapsedS,
              others: Math.max(0, machineNow - machine - ownS) / elapsedS,
              pressureShare: pressure !== null && pressureNow !== null ? (pressureNow - pressure) / 1e6 / elapsedS : null,
            }
          : null;
      [encoder, game, own, machine, pressure] = [encoderNow, gameNow, ownNow, machineNow, pressureNow];
      const bytes = control.figure('drivenBytes');
      const bytesWritten = bytes - bytesBefore;
      bytesBefore = bytes;
      const driveTimes = meters.drive();
      // A stall is no load: the game stands still by itself, and the fates tell so.
      const gameTimes = gameMeter().filter((ms) => ms < stallUs / 1000);
      lastPeaks = order.recipe.lanes.map((_, i) => peakDbfs(peaks[i] ?? 0));
      peaks.fill(0);
      const latencyMs = control.figure('driveLatencyUs') / 1000;
      control.setFigure('driveLatencyUs', 0);
      const encodeMs = encoderRunS !== null && frames > 0 ? (encoderRunS * 1000) / frames / parallelism : null;
      const driveMs = driveTimes.length ? driveTimes.reduce((sum, ms) => sum + ms, 0) / elapsedS : 0;
      return {
        second,
        due: control.get('dueIssued'),
        load: {
          game: figures(gameTimes),
          capture: figures(meters.capture()),
          size: figures(meters.size()),
          encode: { meanMs: encodeMs, busiestMs: encodeMs },
          pack: figures(meters.pack()),
          drive: { meanMs: driveMs, busiestMs: driveMs },
        },
        processor,
        encodeWaitingS: waitS === null ? null : waitS / elapsedS,
        bytesWritten,
        bytesQueued: control.figure('handedBytes') - bytes,
        driveLatencyMs: latencyMs,
        lanePeakDbfs: lastPeaks,
        game: {
          frames: gameTimes.length,
          meanMs: gameTimes.length ? mean(gameTimes) : null,
          slowestMs: gameTimes.length ? Math.max(...gameTimes) : null,
        },
      };
    },
  };
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

function figures(values: readonly number[]): { meanMs: number | null; busiestMs: number | null } {
  if (!values.length) return { meanMs: null, busiestMs: null };
  return { meanMs: mean(values), busiestMs: percentileOfSorted(ascending(values), 0.99) };
}
