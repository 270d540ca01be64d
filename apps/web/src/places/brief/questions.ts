import type { Concern, Destination, editors, Purpose, soundLayouts } from '@mellow/model';

export const destinationWords: Record<Destination, { short: string; rail: string }> = {
  'video-site': { short: 'a video site', rail: 'on a video site' },
  broadcaster: { short: 'a broadcaster', rail: 'by a broadcaster' },
  archive: { short: 'disc or archive', rail: 'from disc or archive' },
  undecided: { short: 'an end not decided', rail: 'not decided' },
};
export const editorWords: Record<(typeof editors)[number], string> = {
  anything: 'opens anything',
  mp4: 'plain MP4 only',
  old: 'older, wants key pictures every 0.5 s',
};
export const soundWordsOf: Record<(typeof soundLayouts)[number], string> = {
  mix: 'one mix',
  'voice-apart': 'voice and game apart',
  'every-source': 'every source apart',
};
export const concernWords: Record<Concern, string> = {
  game: 'game smooth',
  safety: 'nothing lost',
  picture: 'picture',
  'small-files': 'small files',
};
export const cameraWords = {
  none: 'none',
  elsewhere: 'recorded elsewhere',
  over: 'over the game',
  beside: 'beside the game',
} as const;
export const concernHues: Record<Concern, string> = {
  game: 'game',
  safety: 'pack',
  picture: 'encode',
  'small-files': 'drive',
};

/** The finer questions; those that matter for a purpose are asked, the rest only on demand. */
export const finerQuestions = ['shownLines', 'shownFps', 'slowPercent', 'camera', 'uploadMbps'] as const;
export type FinerQuestion = (typeof finerQuestions)[number];
export const questionNames: Record<FinerQuestion, string> = {
  shownLines: 'lines shown',
  shownFps: 'rate shown',
  slowPercent: 'slow-motion speed',
  camera: 'camera',
  uploadMbps: 'line for sending',
};

export const askedFor: Record<Purpose, readonly FinerQuestion[]> = {
  'long-play': ['shownLines', 'shownFps'],
  'short-film': ['shownLines', 'shownFps', 'uploadMbps'],
  'slow-motion': ['shownLines', 'shownFps', 'slowPercent'],
  lesson: ['shownLines', 'camera'],
  master: ['shownFps'],
  light: ['uploadMbps'],
};

const answers = ['Shown', 'Session', 'Editor', 'Matters'] as const;
/** Where a limit comes from: "Matters, answer 4"; what has no answer follows from game and recipe, or is the person's own. */
export const questionOfAnswer = (answer: number | null): string =>
  answer === null ? 'what it is for' : `answer ${answer}, ${answers[answer - 1]?.toLowerCase() ?? ''}`;
