import {
  cameraWhereWords,
  sizeWords,
  capitalised,
  containerWords,
  effortWords,
  encoderFacts,
  encoderWords,
  filterWords,
  formatFps,
  formatKbps,
  formatRate,
  formatSize,
  lanesBits,
  nothingToScale,
  plural,
  rateWords,
  sourceWords,
} from '@mellow/core';
import { isGrabbed, type DriveFacts, type PracticeGame, type Recipe, type Station } from '@mellow/model';

/** The present choice of each station in a few words. */
export function stationChoices(
  recipe: Recipe,
  game: PracticeGame,
  drive: (Pick<DriveFacts, 'name' | 'kind'> & { simulated?: boolean }) | null,
): Record<Station, string> {
  const plain = nothingToScale(game, recipe.size);
  const { encoder, effort } = recipe.encode;
  const grabbed = isGrabbed(recipe.source);
  return {
    game: `${game.title}, ${game.capFps === null ? 'no cap' : `cap ${formatFps(game.capFps)}`}`,
    capture: `${grabbed ? capitalised(sourceWords(recipe.source)) : 'Straight from the game'}, ${formatRate(recipe.rate)}`,
    size:
      recipe.camera && recipe.camera.where !== 'own-file'
        ? `${sizeWords(recipe)}, a camera ${cameraWhereWords[recipe.camera.where]}`
        : plain
          ? `${formatSize(recipe.size.widthPx, recipe.size.heightPx)}, ${grabbed ? 'colours of the screen turned into the file’s' : 'nothing to scale'}`
          : `To ${formatSize(recipe.size.widthPx, recipe.size.heightPx)}, ${filterWords[recipe.size.filter].method}`,
    encode: `${encoderWords(encoder)}, ${encoderFacts[encoder].efforts.length ? `${effortWords[effort]} effort, ` : ''}${rateWords(recipe.encode)}`,
    pack: `${containerWords[recipe.container].name}, ${recipe.rewrap && recipe.container !== 'mp4' ? 'then MP4' : containerWords[recipe.container].safety}`,
    drive: drive
      ? `${drive.name}${drive.kind === 'unknown' ? '' : `, ${drive.kind}`}${drive.simulated ? ', simulated' : ''}`
      : 'no drive chosen',
  };
}

/** "3 lanes: everything, voice, game" and their rate. */
export function soundWords(recipe: Recipe): { what: string; figure: string | null } {
  if (!recipe.lanes.length) return { what: 'no lane, the file is silent', figure: null };
  const bits = lanesBits(recipe.lanes, recipe.sounds).value;
  const flac = recipe.lanes.some((lane) => lane.codec === 'flac');
  return {
    what: `${plural(recipe.lanes.length, 'lane')}: ${recipe.lanes.map((lane) => lane.name.toLowerCase()).join(', ')}`,
    figure: `${flac ? 'about ' : ''}${formatKbps(bits / 1000)}`,
  };
}

/** "1:30 h", "20 min": the length of a session. */
export const sessionWords = (minutes: number): string =>
  minutes < 60
    ? `${minutes} min`
    : minutes % 60
      ? `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')} h`
      : `${minutes / 60} h`;
