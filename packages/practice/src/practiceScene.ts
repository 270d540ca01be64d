import type { PracticeGame } from '@mellow/model';
import { harrowValeScene } from './harrowVale';
import { paperCometsScene } from './paperComets';
import type { Scene } from './scene';
import { tinCathedralScene } from './tinCathedral';

const scenes: Record<PracticeGame['scene'], (game: PracticeGame) => Scene> = {
  'paper-comets': paperCometsScene,
  'harrow-vale': harrowValeScene,
  'tin-cathedral': tinCathedralScene,
};

/** The scene that a practice game is set to. */
export const practiceScene = (game: PracticeGame): Scene => scenes[game.scene](game);
