import { dueUs, remembering } from '../units';
import { createGameLoop, othersJob, processorJobs } from './gameLoop';
import { gameStartUs, type PathParameters } from './parameters';
import { createSharedResource } from './shared';

/**
 * The game alone on the same draws; what it loses to recording is the play cost. What is recorded of it does not matter to
 * it, so candidate recipes for one game ask for the same run again.
 * @returns when each frame was presented, microseconds after due 0; not to be written to
 */
export const simulateGameAlone = remembering(64, keyOf, simulate);

/** All that the game by itself depends on, and nothing else. */
function keyOf({ seed, rate, dueFrames, scenes, stalls, cores, othersCores, game }: PathParameters): string {
  return JSON.stringify([
    seed,
    dueUs(rate, dueFrames),
    scenes.map((scene) => [scene.toUs, scene.gameFactor]),
    stalls,
    cores,
    othersCores,
    { ...game, slowedBy: null },
  ]);
}

function simulate(p: PathParameters): Float64Array {
  const endUs = dueUs(p.rate, p.dueFrames);
  const processor = createSharedResource(p.cores, processorJobs);
  const game = createGameLoop(p, endUs, processor, false);
  if (p.othersCores > 0) processor.start(othersJob, Infinity, p.othersCores, Math.max(1, p.othersCores));
  for (let now = gameStartUs; ;) {
    const byProcessor = now + processor.untilNext();
    const own = game.nextUs();
    const next = Math.min(byProcessor, own);
    if (next > endUs) break;
    processor.advance(next - now);
    now = next;
    if (own <= byProcessor) game.step(now);
    else game.processorDone(now, processor.nextJob());
  }
  return game.presentsUs();
}
