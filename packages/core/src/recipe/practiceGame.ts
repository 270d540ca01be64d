import { gameFactsSchema, type PracticeGame, type PracticeSceneName } from '@mellow/model';

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

/** The three practice games: their names, what each is like, and how it is set when it is chosen. */
export const practiceSceneWords: Record<
  PracticeSceneName,
  { title: string; about: string; look: Pick<PracticeGame, 'motion' | 'detail'> }
> = {
  'paper-comets': {
    title: 'Paper Comets',
    about: 'a fast race from the side: flat shapes, everything moves',
    look: { motion: 0.6, detail: 0.4 },
  },
  'harrow-vale': {
    title: 'Harrow Vale',
    about: 'farmland from above: slow, still passages, thin lines and small text, rain and night at once',
    look: { motion: 0.25, detail: 0.4 },
  },
  'tin-cathedral': {
    title: 'Tin Cathedral',
    about: 'first person through dark halls: dense texture, grain, quick turns',
    look: { motion: 0.5, detail: 0.8 },
  },
};

/** A game that draws another scene; a title of its own is kept, one of ours follows the scene. */
export function withScene(game: PracticeGame, scene: PracticeSceneName): PracticeGame {
  const ours = Object.values(practiceSceneWords).some(({ title }) => title === game.title);
  const { title, look } = practiceSceneWords[scene];
  return { ...game, ...look, scene, title: ours ? title : game.title };
}
