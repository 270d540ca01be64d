import { formatPercent, formatSize } from '../units';

/** What the rules of cameraRules.ts say. */
export const cameraTexts = {
  wanted: (where: 'over' | 'beside') => ({
    title: `A camera ${where === 'over' ? 'over' : 'beside'} the game is wanted, and none is in the recipe`,
    text:
      where === 'over'
        ? 'It is burnt into the picture and cannot be moved later. Beside the game, or in a file of its own, it stays free.'
        : 'Both lie in one picture twice as wide, stay in step and can be cut apart.',
  }),
  burntIn: (share: number, place: string) => ({
    title: 'A camera over the game cannot be moved later',
    text: `It hides ${formatPercent(share)} of the picture, ${place}, and with it whatever the game shows there. Beside the game, or in a file of its own, it stays free.`,
  }),
  wide: (widthPx: number, heightPx: number) => ({
    title: `Game and camera side by side are ${formatSize(widthPx, heightPx)}`,
    text: 'An editor puts the picture in twice and cuts one half off each. A player shows both halves at once. Twice the pixels ask for twice the bitrate or more, or for a number that is a little lower.',
  }),
  standIn: {
    title: 'The stand-in camera is drawn: nobody is seen',
    text: 'It shows where a camera will lie and what it costs. Trials can do with it; a take with you in it cannot.',
  },
  deviceElsewhere: (machine: string) => ({
    title: `${machine} is simulated and has no camera`,
    text: 'A camera of this PC cannot be recorded by another. The stand-in camera can, laid over the game or beside it.',
  }),
};
