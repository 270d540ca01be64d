import type { ScreenLook, Source } from '@mellow/model';

/** A look at what would be recorded, and when it was taken. */
export interface Look {
  atMs: number;
  look: Pick<ScreenLook, 'brightest' | 'mark'>;
}

/** A picture that shows nothing, or the same, for so long is said. */
export const troubleAfterMs = 3000;
/** Luma of full range up to which nothing is seen. */
const blackUpTo = 16;

/** Whether what would be recorded has been black, or the same, for three seconds by now. Looks stand in order of time. */
export function lookTrouble(looks: readonly Look[]): 'black' | 'frozen' | null {
  const last = looks.at(-1);
  if (!last) return null;
  const lasts = (as: (look: Look['look']) => boolean): boolean => {
    let since = last.atMs;
    for (const { atMs, look } of looks.toReversed()) {
      if (!as(look)) break;
      since = atMs;
    }
    return last.atMs - since >= troubleAfterMs;
  };
  if (lasts((look) => look.brightest <= blackUpTo)) return 'black';
  return lasts((look) => look.mark === last.look.mark) ? 'frozen' : null;
}

/** What to try where a source stays black or stands still, the mildest first; nothing of it is done by itself. */
export function sourceFallbacks(source: Source): string[] {
  switch (source.kind) {
    case 'window':
      return [
        'Set the game to borderless instead of full screen.',
        'Choose the display the game is on: everything on it is recorded then.',
      ];
    case 'region':
      return ['See whether the game lies where this part of the screen is.', 'Choose the game’s window.'];
    case 'display':
      return ['See whether the game is on another display.', 'Set the game to borderless instead of full screen.'];
    case 'practice':
    case 'sample':
      return [];
  }
}
