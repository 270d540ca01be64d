import {
  briefSchema,
  gameFactsSchema,
  noCalibration,
  type BriefInput,
  type GameFacts,
  type PracticeGame,
  type Recipe,
} from '@mellow/model';
import { kestrel } from '../machine';
import { plainPracticeGame, startRecipe } from '../recipe';
import { standInFacts } from '../storage';
import type { ForecastContext } from './context';

export interface ContextChange {
  brief?: Partial<BriefInput>;
  game?: Partial<PracticeGame>;
  facts?: Partial<GameFacts>;
  context?: Partial<ForecastContext>;
}

/** A good setup on the machine Kestrel: nothing to complain about. */
export function testContext(change: ContextChange = {}): ForecastContext {
  const facts = gameFactsSchema.parse({
    freeFps: 130,
    motion: 'fast',
    driveId: 'kestrel-games',
    windowMode: 'full-screen',
    memoryGb: 6,
    smallTextPx: 18,
    ...change.facts,
  });
  const game: PracticeGame = {
    ...plainPracticeGame,
    widthPx: 1920,
    heightPx: 1080,
    capFps: 120,
    ...change.game,
    facts,
  };
  const brief = briefSchema.parse({ purpose: 'long-play', sessionMinutes: 50, ...change.brief });
  return {
    game,
    brief,
    machine: kestrel,
    drives: kestrel.drives.map(standInFacts),
    calibration: noCalibration,
    locks: [],
    start: goodRecipe(game, brief),
    ...change.context,
  };
}

/** A recipe on which no rule has anything worse to say than a note. */
export function goodRecipe(game: PracticeGame, brief: BriefInput): Recipe {
  const start = startRecipe({ ...brief, purpose: 'long-play' }, game, 'kestrel-attic');
  return { ...start, encode: { ...start.encode, encoder: 'avc-card', effort: 'light' } };
}
