import {
  briefSchema,
  type Brief,
  type BriefInput,
  type EncoderName,
  type FrameRate,
  type Lane,
  type MachineSheet,
  practiceSounds,
  onePart,
  practiceSource,
  startName,
  type PracticeGame,
  type Purpose,
  type Recipe,
  type DriveFacts,
} from '@mellow/model';
import { encoderWords } from '../codec/encoders';
import { sizeByLines } from '../picture/sizes';
import { sharedWithGame } from '../storage';
import { formatFps, formatPercent, framesPerSecond } from '../units';
import { gameReachFps, rateWithinReach } from './gameReach';
import type { SettingKey } from './settings';

/** Words for a purpose. */
export const purposeWords: Record<Purpose, { name: string; meaning: string }> = {
  'long-play': { name: 'Long play', meaning: 'to cut later, saved even if it dies' },
  'short-film': { name: 'Short film', meaning: 'finest, takes under 20 min' },
  'slow-motion': { name: 'Slow motion', meaning: 'twice the frames, shown slower' },
  lesson: { name: 'Lesson or talk', meaning: 'text stays readable' },
  master: { name: 'Master copy', meaning: 'nearly lossless, for effects' },
  light: { name: 'As light as it gets', meaning: 'the lowest that is still good' },
};

export interface Reason {
  setting: SettingKey;
  /** Number of the brief's answer it follows from (1 shown, 2 session, 3 editor, 4 what matters); null: from purpose, game or machine. */
  answer: number | null;
  text: string;
}

/** What is known when a recipe is made of a brief. */
export interface BriefContext {
  game: PracticeGame;
  /** Null: nothing is known of the machine yet. */
  machine: MachineSheet | null;
  drives: readonly DriveFacts[];
  /** The drive where none is better. */
  driveId: string;
}

export interface RecipeFromBrief {
  recipe: Recipe;
  reasons: Reason[];
}

/**
 * The recipe a brief leads to, with the reason of each value. Values follow docs/model.md, "Start from a brief"; where practice disagrees
 * the condition that decides is named in the reason.
 */
export function recipeFromBrief(brief: Brief, context: BriefContext): RecipeFromBrief {
  const reasons: Reason[] = [];
  const because = (setting: SettingKey, answer: number | null, text: string): void =>
    void reasons.push({ setting, answer, text });
  const { game, machine } = context;
  const rate = rateFor(brief, game, because);
  const size = sizeFor(brief, game, because);
  const encode = encodeFor(brief, machine, rate, size, because);
  const lanes = lanesFor(brief, because);
  const rewrap = brief.editor !== 'anything';
  because(
    'container',
    rewrap ? 3 : 4,
    rewrap
      ? 'Matroska survives a crash; the editor gets a plain MP4, made after stopping.'
      : 'Matroska survives a crash, and this editor opens it.',
  );
  return {
    recipe: {
      source: practiceSource,
      rate,
      size,
      encode,
      priority: 'usual',
      camera: null,
      sounds: practiceSounds.map((sound) => ({ ...sound })),
      leadIn: 'none',
      lanes,
      container: 'matroska',
      rewrap,
      discardSource: false,
      driveId: driveFor(context, because),
      file: { subfolder: 'day', name: startName },
      parts: onePart,
      nextDriveIds: [],
      ceilingMinutes: null,
    },
    reasons,
  };
}

/** The same with nothing known of the machine. */
export const startRecipe = (brief: BriefInput, game: PracticeGame, driveId: string): Recipe =>
  recipeFromBrief(briefSchema.parse(brief), { game, machine: null, drives: [], driveId }).recipe;

type Because = (setting: SettingKey, answer: number | null, text: string) => void;

/** Rates of a broadcaster's country: 25 and 50, or 30 and 60 over 1.001; elsewhere whole numbers. */
function rateInFamily(fps: number, brief: Brief): FrameRate {
  if (brief.destination !== 'broadcaster') return { num: fps, den: 1 };
  if (brief.mainsHz === 50) return { num: fps >= 50 ? 50 : 25, den: 1 };
  return { num: (fps >= 50 ? 60 : 30) * 1000, den: 1001 };
}

function rateFor(brief: Brief, game: PracticeGame, because: Because): FrameRate {
  if (brief.purpose === 'slow-motion') {
    const wanted = (brief.shownFps * 100) / brief.slowPercent;
    const reach = gameReachFps(game) ?? 240;
    const fps = Math.max(brief.shownFps, Math.min(Math.round(wanted), 240, Math.floor(reach)));
    because(
      'rate',
      1,
      `Shown at ${brief.slowPercent} % of the speed on ${brief.shownFps} fps: ${formatFps(wanted)} are needed${fps < wanted ? `, the game gives ${formatFps(fps)}` : ''}.`,
    );
    return { num: fps, den: 1 };
  }
  const still =
    brief.purpose === 'lesson' ||
    brief.purpose === 'light' ||
    (game.facts.motion === 'calm' && brief.purpose !== 'master');
  const wanted = Math.min(brief.shownFps, still ? 30 : 60);
  const reach = gameReachFps(game);
  const lower = rateWithinReach(wanted, reach, brief);
  const rate = rateInFamily(lower ?? wanted, brief);
  const why =
    brief.destination === 'broadcaster'
      ? `A broadcaster in a ${brief.mainsHz} Hz country takes this rate.`
      : lower !== null && reach !== null
        ? `The game shows ${formatFps(reach)}: at ${formatFps(wanted)} ${formatPercent(1 - reach / wanted)} of the frames would be repeats.`
        : reach !== null && reach < wanted * 0.995
          ? `The game shows ${formatFps(reach)}: ${formatPercent(1 - reach / wanted)} repeats are less uneven than another rate.`
          : still
            ? `At ${formatFps(wanted)} each picture stands for ${Math.round(1000 / wanted)} ms: where little moves it shows the same for less work.`
            : 'It shows as much, and the motion asks for it.';
  because('rate', 1, why);
  return rate;
}

function sizeFor(brief: Brief, game: PracticeGame, because: Because): Recipe['size'] {
  const most = brief.purpose === 'light' ? 720 : brief.purpose === 'master' ? game.heightPx : brief.shownLines;
  if (game.heightPx <= most) {
    because('size', 1, 'As it is played: nothing is scaled.');
    return { widthPx: game.widthPx, heightPx: game.heightPx, filter: 'lanczos', fit: 'bars' };
  }
  const size = sizeByLines(game, most);
  const share = (size.widthPx * size.heightPx) / (game.widthPx * game.heightPx);
  because(
    'size',
    brief.purpose === 'light' ? null : 1,
    `${brief.purpose === 'light' ? 'Smaller is not advised, larger costs more' : 'More is not shown'}; ${share.toFixed(2)} of the pixels to encode.`,
  );
  because('filter', null, 'The crisp filter keeps most when scaling down.');
  return { ...size, filter: 'lanczos', fit: 'bars' };
}

/** A block first, as it leaves the game its cores; software where none was proven (assumed). */
function encoderFor(brief: Brief, machine: MachineSheet | null): EncoderName {
  if (brief.purpose === 'master') return 'avc-software';
  const works = (encoder: EncoderName) => machine?.encoders.some((e) => e.encoder === encoder && e.works);
  return works('avc-card') ? 'avc-card' : works('avc-processor-graphics') ? 'avc-processor-graphics' : 'avc-software';
}

function qualityFor(brief: Brief): { quality: number; answer: number | null; text: string } {
  const first = brief.matters[0];
  if (brief.purpose === 'master')
    return { quality: 8, answer: null, text: 'Effects need reserves: far below what can be seen.' };
  if (brief.purpose === 'light')
    return { quality: 24, answer: null, text: 'Coarser than usual, for small files and little work.' };
  const bySession = brief.sessionMinutes <= 30 || brief.purpose === 'short-film' ? 18 : 20;
  const why =
    bySession === 18
      ? 'A short take has room for it.'
      : 'A long session: by the rate model 2 steps finer would be about a quarter larger.';
  if (first === 'picture')
    return { quality: bySession - 2, answer: 4, text: `The picture comes first: 2 steps finer than ${bySession}.` };
  if (first === 'small-files')
    return {
      quality: bySession + 3,
      answer: 4,
      text: `Small files come first: 3 steps above ${bySession}, about 0.7 of the size.`,
    };
  return { quality: bySession, answer: 2, text: why };
}

/** A set bitrate to begin with: so many bits a pixel (docs/model.md, "Start from a brief"). */
const startBitsPerPixel = 0.12;

function encodeFor(
  brief: Brief,
  machine: MachineSheet | null,
  rate: FrameRate,
  size: Recipe['size'],
  because: Because,
): Recipe['encode'] {
  const pixelsPerSecond = size.widthPx * size.heightPx * framesPerSecond(rate);
  const bitrateKbps = Math.max(500, Math.round((startBitsPerPixel * pixelsPerSecond) / 500_000) * 500);
  const encoder = encoderFor(brief, machine);
  const software = encoder.endsWith('software');
  const { quality, answer, text } = qualityFor(brief);
  const gameFirst = brief.matters.indexOf('game') <= 1;
  const old = brief.editor === 'old';
  because(
    'encoder',
    null,
    software
      ? machine
        ? 'No encoder block was proven here; software shares the processor with the game.'
        : 'Software runs on every PC.'
      : `${encoderWords(encoder)} leaves the processor to the game.`,
  );
  const effort = software ? 'lightest' : gameFirst ? 'light' : 'middle';
  because(
    'effort',
    4,
    software
      ? 'The lightest costs the game least; trials tell what more would save.'
      : gameFirst
        ? 'Light, as the game comes before the picture.'
        : 'Middle: the block has time for it.',
  );
  because('quality', answer, text);
  because(
    'keyDistance',
    old ? 3 : null,
    old ? 'The older editor wants a key picture every 0.5 s.' : 'Every 2 s: usual, and easy to cut.',
  );
  return {
    encoder,
    effort,
    rateControl: 'constant-quality',
    quality,
    bitrateKbps,
    ceilingKbps: Math.round(bitrateKbps * 1.5),
    keyDistanceFrames: Math.max(1, Math.round(framesPerSecond(rate) * (old ? 0.5 : 2))),
    closedGroups: true,
    bFrames: software || gameFirst ? 0 : 2,
    lowDelay: false,
    range: 'limited',
    matrix: 'bt709',
    easyDecode: false,
    lookAheadFrames: null,
    eyeTuning: 'own',
    card: null,
    pixels: '4:2:0',
    profile: 'high',
    threads: 0,
    quantiser: 4,
  };
}

function lanesFor(brief: Brief, because: Because): Lane[] {
  const codec = brief.editor === 'anything' ? 'flac' : 'aac';
  const lane = (name: string, sources: Lane['sources'], bitrateKbps: number): Lane => ({
    name,
    sources,
    codec,
    bitrateKbps,
  });
  const mix = lane('Everything', ['game', 'voice', 'chat'], 320);
  const layout = brief.purpose === 'light' ? 'mix' : brief.soundLayout;
  because(
    'lanes',
    3,
    layout === 'mix'
      ? 'One lane with everything: the lightest and simplest.'
      : `Everything first, as players play the first lane; ${layout === 'voice-apart' ? 'voice and game' : 'every source'} apart for the editor.`,
  );
  if (layout === 'mix')
    return [brief.purpose === 'light' ? { ...mix, sources: ['game', 'voice'], bitrateKbps: 128 } : mix];
  const lanes = [mix, lane('Voice', ['voice'], 128), lane('Game', ['game'], 320)];
  return layout === 'voice-apart' ? lanes : [...lanes, lane('Chat', ['chat'], 128)];
}

function driveFor({ game, drives, driveId }: BriefContext, because: Because): string {
  const usable = drives.filter((drive) => drive.problem === null && drive.freeBytes !== null);
  const apart = usable.filter((drive) => sharedWithGame(drive, game.facts.driveId, drives) !== true);
  const best = (apart.length ? apart : usable).toSorted((a, b) => (b.freeBytes ?? 0) - (a.freeBytes ?? 0))[0];
  const own = usable.find((drive) => drive.id === driveId);
  const keep = own && (game.facts.driveId === null || apart.includes(own));
  const chosen = keep ? own : best;
  if (chosen)
    because(
      'drive',
      2,
      chosen === own
        ? `Nothing speaks against ${chosen.name}.`
        : `${chosen.name} has most room${apart.includes(chosen) && game.facts.driveId ? ', and the game does not read from it' : ''}.`,
    );
  return chosen?.id ?? driveId;
}
