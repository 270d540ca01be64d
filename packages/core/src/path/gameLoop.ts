import { randomStream } from '../units';
import { normalStream, streamSeed, workFactors } from './draws';
import { gameStartUs, sceneAt, type PathParameters } from './parameters';
import type { SharedResource } from './shared';

/** The game of a simulated path: processor work, then graphics work, then its cap slot; presented at the end. */
export interface GameLoop {
  /** Time of the next thing that needs no processor: a presented frame, the end of a stall or of a frame's graphics. */
  nextUs(): number;
  /** Does what is due at `nextUs`. */
  step(nowUs: number): void;
  /** @param job the main thread's, or the helpers' */
  processorDone(nowUs: number, job: number): void;
  presented(): number;
  presentUs(frame: number): number;
  /** When each of its frames was presented. */
  presentsUs(): Float64Array;
}

export const gameJob = 0;
export const encodeJob = 3;
/** Other programs on the processor. */
export const othersJob = 4;
/** The game's helper threads on the processor. */
export const helperJob = 5;
/** Jobs that a processor is shared by. */
export const processorJobs = 6;

export function createGameLoop(
  p: PathParameters,
  endUs: number,
  processor: SharedResource,
  recorded: boolean,
): GameLoop {
  const { game } = p;
  const slowed = recorded ? game.slowedBy : { processor: 1, graphics: 1 };
  const shortestUs = Math.max(200, game.capUs || (game.processor.meanUs + game.graphicsUs) * 0.25);
  const most = Math.min(200_000, Math.ceil((endUs - gameStartUs) / shortestUs) + 64);
  const factors = workFactors(streamSeed(p.seed, 'game'), most, game.processor.cv, game.processor.phi);
  const jitter = normalStream(streamSeed(p.seed, 'present'));
  const turn = randomStream(streamSeed(p.seed, 'turn'));
  /** A game under a cap sleeps between frames; one that runs free never gives its turn away. */
  const turnUs = recorded && game.capUs > 0 ? p.encode.turnUs : 0;
  /** The frame that waits for its turn, or has waited. */
  let turnOf = -1;
  /** When each frame is presented, in order; the first `presented` of them have been. */
  let presents = new Float64Array(most);
  let presented = 0;
  let scheduled = 0;
  let started = 0;
  /** Parts of the frame in work that are still on the processor: the main thread's and the helpers'. */
  let onProcessor = 0;
  let waitsForGraphics = false;
  /** When the graphics are done with their frame, Infinity while they have none: the game has them for itself. */
  let graphicsEndUs = Infinity;
  let anchorUs = gameStartUs;
  let wakeUs = gameStartUs;
  let stallAt = 0;

  const factorOf = (frame: number, atUs: number): number =>
    (factors[frame % most] ?? 1) * (sceneAt(p.scenes, atUs)?.gameFactor ?? 1);

  function tryStart(nowUs: number): void {
    if (onProcessor > 0 || waitsForGraphics || started - presented > game.framesAhead) return;
    while (stallAt < p.stalls.length && p.stalls[stallAt]![1] <= nowUs) stallAt++;
    const stall = p.stalls[stallAt];
    if (stall && stall[0] <= nowUs) {
      wakeUs = stall[1];
      return;
    }
    if (turnUs > 0 && waitsForTurn(nowUs)) return;
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

  function waitsForTurn(nowUs: number): boolean {
    if (turnOf === started) return nowUs < wakeUs;
    if (!processor.active(encodeJob)) return false;
    turnOf = started;
    wakeUs = nowUs + turn() * turnUs;
    return true;
  }

  function startGraphics(nowUs: number): void {
    graphicsEndUs = nowUs + game.graphicsUs * factorOf(started - 1, nowUs) * slowed.graphics;
  }

  function graphicsDone(nowUs: number): void {
    graphicsEndUs = Infinity;
    toSlot(nowUs);
    if (waitsForGraphics) {
      waitsForGraphics = false;
      startGraphics(nowUs);
    }
  }

  function toSlot(nowUs: number): void {
    anchorUs = game.capUs > 0 ? Math.max(nowUs, anchorUs + game.capUs) : nowUs;
    const late = game.jitterUs > 0 ? Math.abs(jitter()) * game.jitterUs : 0;
    const before = scheduled > 0 ? presents[scheduled - 1]! : -Infinity;
    if (scheduled === presents.length) presents = grown(presents);
    presents[scheduled++] = Math.max(anchorUs + late, before + 1);
  }

  return {
    nextUs() {
      const own = Math.min(wakeUs, graphicsEndUs);
      return presented < scheduled ? Math.min(presents[presented]!, own) : own;
    },
    step(nowUs) {
      if (graphicsEndUs <= nowUs) graphicsDone(nowUs);
      if (presented < scheduled && presents[presented]! <= nowUs) presented++;
      tryStart(nowUs);
    },
    processorDone(nowUs, job) {
      processor.stop(job);
      onProcessor--;
      // A frame goes on when its helpers are done too.
      if (onProcessor > 0) return;
      if (game.graphicsUs <= 0) toSlot(nowUs);
      else if (graphicsEndUs < Infinity) waitsForGraphics = true;
      else startGraphics(nowUs);
      tryStart(nowUs);
    },
    presented: () => presented,
    presentUs: (frame) => presents[frame]!,
    presentsUs: () => presents.slice(0, presented),
  };
}

function grown(values: Float64Array): Float64Array<ArrayBuffer> {
  const more = new Float64Array(values.length * 2);
  more.set(values);
  return more;
}
