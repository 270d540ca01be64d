import { gameFactsSchema, type PracticeGame } from '@mellow/model';

/** The practice game as it stands when nothing else is said. */
export const plainPracticeGame: PracticeGame = {
  kind: 'practice',
  scene: 'paper-comets',
  title: 'Paper Comets',
  seed: 20,
  widthPx: 1280,
  heightPx: 720,
  capFps: 120,
  motion: 0.6,
  detail: 0.4,
  extraLoadUs: 0,
  helpers: 0,
  helperLoadUs: 0,
  passages: [
    { kind: 'calm', seconds: 4 },
    { kind: 'busy', seconds: 4 },
    { kind: 'loading', seconds: 2 },
  ],
  strip: false,
  facts: gameFactsSchema.parse({ motion: 'fast' }),
};
