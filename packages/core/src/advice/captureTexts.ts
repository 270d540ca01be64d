import { capitalised } from '../units';

/** What the rules of captureRules.ts say. */
export const captureTexts = {
  screenOfAnother: (machine: string) => ({
    title: `${machine} is simulated and has no screen`,
    text: 'What is shown on this PC would be recorded on this PC; figures of another machine would not belong to it.',
  }),
  wholeDisplay: (name: string) => ({
    title: `Everything on ${name} is recorded`,
    text: 'Messages that come up, other windows, what is seen when you switch away. A single window keeps all of that out.',
  }),
  fullScreenWindow: (title: string) => ({
    title: `“${title}” in full screen may come out black`,
    text: 'A game in full screen of its own draws past its window. Without a border it looks the same and can be recorded.',
  }),
  strictAntiCheat: (title: string) => ({
    title: `${capitalised(title)} watches what looks into it`,
    text: 'What is recorded here is read from the screen, as a person sees it; nothing is put into the game or read out of it.',
  }),
};
