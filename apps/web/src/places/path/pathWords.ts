import { containerWords, effortWords, filterWords, formatFps, formatKbps, formatRate, formatSize, laneBitsPerSecond, nothingToScale, plural, rateWords } from '@mellow/core';
import type { DriveState, PracticeGame, Recipe, Station } from '@mellow/model';

/** The present choice of each station in a few words. */
export function stationChoices(recipe: Recipe, game: PracticeGame, drive: DriveState | null): Record<Station, string> {
  const plain = nothingToScale(game, recipe.size);
  return {
    game: `${game.title}, ${game.capFps === null ? 'no cap' : `cap ${formatFps(game.capFps)}`}`,
    capture: `Straight from the game, ${formatRate(recipe.rate)}`,
    size: plain ? `${formatSize(recipe.size.widthPx, recipe.size.heightPx)}, nothing to scale` : `To ${formatSize(recipe.size.widthPx, recipe.size.heightPx)}, ${filterWords[recipe.size.filter].method}`,
    encode: `AVC in software, ${effortWords[recipe.encode.effort]} effort, ${rateWords(recipe.encode)}`,
    pack: `${containerWords[recipe.container].name}, ${containerWords[recipe.container].safety}`,
    drive: drive ? `${drive.name}${drive.kind === 'stand-in' ? ', stand-in' : drive.kind === 'unknown' ? '' : `, ${drive.kind}`}` : 'no drive chosen',
  };
}

/** "3 lanes: everything, voice, game" and their rate. */
export function soundWords(recipe: Recipe): { what: string; figure: string | null } {
  if (!recipe.lanes.length) return { what: 'no lane, the file is silent', figure: null };
  const bits = recipe.lanes.reduce((sum, lane) => sum + laneBitsPerSecond(lane), 0);
  const flac = recipe.lanes.some((lane) => lane.codec === 'flac');
  return { what: `${plural(recipe.lanes.length, 'lane')}: ${recipe.lanes.map((lane) => lane.name.toLowerCase()).join(', ')}`, figure: `${flac ? 'about ' : ''}${formatKbps(bits / 1000)}` };
}
