import type { Picture420 } from './picture420';

/** Draws frame `slot` of a scene: the same picture every time for the same game settings, whatever was drawn before. */
export interface Scene {
  draw(target: Picture420, slot: number): void;
}
