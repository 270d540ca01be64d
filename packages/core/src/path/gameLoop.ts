import { normalStream, streamSeed, workFactors } from './draws';
import { gameStartUs, sceneAt, type PathParameters } from './parameters';
import type { SharedResource } from './shared';

/** The game of a simulated path: processor work, then graphics work, then its cap slot; presented at the end. */
export interface GameLoop {
  /** Time of the next thing the game does by itself: a presented frame, or the end of a stall. */
  nextUs(): number;
  /** Does what is due at `nextUs`. */
  step(nowUs: number): void;
  /** @param job the main thread's, or the helpers' */
  processorDone(nowUs: number, job: number): void;
  graphicsDone(nowUs: number): void;
  presented(): number;
  presentUs(frame: number): number;
}

export const gameJob = 0;
/** The game's helper threads on the processor. */
export const helperJob = 5;
/** Jobs that a processor is shared by. */
export const processorJobs = 6;

export function createGameLoop(
  p: PathParameters,
  endUs: number,
  processor: SharedResource,
  graphics: SharedResource,
  recorded: boolean,
): GameLoop {
  const { game } = p;
  const slowed = recorded ? game.slowedBy : { processor: 1, graphics: 1 };
  const shortestUs = Math.max(200, game.capUs || (game.processor.meanUs + game.graphicsUs) * 0.25);
  const most = Math.min(200_000, Math.ceil((endUs - gameStartUs) / shortestUs) + 64);
  const factors = workFactors(streamSeed(p.seed, 'game'), most, game.processor.cv, game.processor.phi);
  const jitter = normalStream(streamSeed(p.seed, 'present'));
  const presents: number[] = [];
  const waitingPresents: number[] = [];
  let started = 0;
  /** Parts of the frame in work that are still on the processor: the main thread's and the helpers'. */
  let onProcessor = 0;
  let waitsForGraphics = false;
  let graphicsBusy = false;
  let anchorUs = gameStartUs;
  let wakeUs = gameStartUs;
  let stallAt = 0;

  const factorOf = (frame: number, atUs: number): number =>
    (factors[frame % most] ?? 1) * (sceneAt(p.scenes, atUs)?.gameFactor ?? 1);

  function tryStart(nowUs: number): void {
    if (onProcessor > 0 || waitsForGraphics || started - presents.length > game.framesAhead) return;
    while (stallAt < p.stalls.length && p.stalls[stallAt]![1] <= nowUs) stallAt++;
    const stall = p.stalls[stallAt];
    if (stall && stall[0] <= nowUs) {
      wakeUs = stall[1];
      return;
    }
    wakeUs = Infinity;
    const factor = factorOf(started, nowUs) * slowed.processor;
    onProcessor = 1;
    processor.start(gameJob, game.processor.meanUs * factor, 1, game.weight);
    if (game.helpers.meanUs > 0) {
      const { meanUs, parallelism } = game.helpers;
      onProcessor = 2;
      processor.start(helperJob, meanUs * factor, parallelism, parallelism * game.weight);
    }
    started++;
  }

  function startGraphics(nowUs: number): void {
    graphicsBusy = true;
    graphics.start(gameJob, game.graphicsUs * factorOf(started - 1, nowUs) * slowed.graphics, 1, 1);
  }

  function toSlot(nowUs: number): void {
    anchorUs = game.capUs > 0 ? Math.max(nowUs, anchorUs + game.capUs) : nowUs;
    const late = game.jitterUs > 0 ? Math.abs(jitter()) * game.jitterUs : 0;
    const before = waitingPresents[waitingPresents.length - 1] ?? presents[presents.length - 1] ?? -Infinity;
    waitingPresents.push(Math.max(anchorUs + late, before + 1));
  }

  return {
    nextUs: () => Math.min(waitingPresents[0] ?? Infinity, wakeUs),
    step(nowUs) {
      if ((waitingPresents[0] ?? Infinity) <= nowUs) presents.push(waitingPresents.shift()!);
      tryStart(nowUs);
    },
    processorDone(nowUs, job) {
      processor.stop(job);
      onProcessor--;
      // A frame goes on when its helpers are done too.
      if (onProcessor > 0) return;
      if (game.graphicsUs <= 0) toSlot(nowUs);
      else if (graphicsBusy) waitsForGraphics = true;
      else startGraphics(nowUs);
      tryStart(nowUs);
    },
    graphicsDone(nowUs) {
      graphicsBusy = false;
      graphics.stop(gameJob);
      toSlot(nowUs);
      if (waitsForGraphics) {
        waitsForGraphics = false;
        startGraphics(nowUs);
      }
      tryStart(nowUs);
    },
    presented: () => presents.length,
    presentUs: (frame) => presents[frame]!,
  };
}
