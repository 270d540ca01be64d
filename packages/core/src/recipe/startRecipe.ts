import type { Brief, PracticeGame, Purpose, Recipe } from '@mellow/model';

/** Words for a purpose. */
export const purposeWords: Record<Purpose, { name: string; meaning: string }> = {
  'long-play': { name: 'Long play', meaning: 'to cut later, saved even if it dies' },
  'short-film': { name: 'Short film', meaning: 'finest, takes under 20 min' },
  'slow-motion': { name: 'Slow motion', meaning: '120 fps, shown at half speed' },
  lesson: { name: 'Lesson or talk', meaning: 'text stays readable' },
  master: { name: 'Master copy', meaning: 'nearly lossless, for effects' },
  light: { name: 'As light as it gets', meaning: 'the lowest that is still good' },
};

/**
 * The recipe a setup begins with. Values follow common practice (facts.md): lightest effort in software,
 * 18 for short and 20 for long takes, key pictures every 2 s, sound lossless while the processor is the bottleneck.
 */
export function startRecipe(brief: Brief, game: PracticeGame, driveId: string): Recipe {
  const fps = brief.purpose === 'slow-motion' ? 120 : brief.purpose === 'lesson' || brief.purpose === 'light' ? 30 : 60;
  const small = brief.purpose === 'light' && game.heightPx > 720;
  const widthPx = small ? Math.round((game.widthPx * 720) / game.heightPx / 2) * 2 : game.widthPx;
  const quality: Record<Purpose, number> = { 'long-play': 20, 'short-film': 18, 'slow-motion': 20, lesson: 20, master: 8, light: 24 };
  return {
    rate: { num: fps, den: 1 },
    size: { widthPx, heightPx: small ? 720 : game.heightPx, filter: 'lanczos' },
    encode: {
      effort: 'lightest',
      rateControl: 'constant-quality',
      quality: quality[brief.purpose],
      bitrateKbps: 15_000,
      ceilingKbps: 22_500,
      keyDistanceFrames: fps * 2,
      closedGroups: true,
      bFrames: 0,
      lowDelay: false,
      range: 'limited',
    },
    lanes:
      brief.purpose === 'light'
        ? [{ name: 'Everything', sources: ['game', 'voice'], codec: 'flac', bitrateKbps: 160 }]
        : [
            { name: 'Everything', sources: ['game', 'voice', 'chat'], codec: 'flac', bitrateKbps: 320 },
            { name: 'Voice', sources: ['voice'], codec: 'flac', bitrateKbps: 160 },
            { name: 'Game', sources: ['game'], codec: 'flac', bitrateKbps: 320 },
          ],
    container: 'matroska',
    driveId,
  };
}

/** The practice game as it stands when nothing else is said. */
export const plainPracticeGame: PracticeGame = {
  kind: 'practice',
  title: 'Paper Comets',
  seed: 20,
  widthPx: 1280,
  heightPx: 720,
  capFps: 120,
  motion: 0.6,
  detail: 0.4,
  extraLoadUs: 0,
  passages: [
    { kind: 'calm', seconds: 4 },
    { kind: 'busy', seconds: 4 },
    { kind: 'loading', seconds: 2 },
  ],
  strip: false,
};
