import { formatFps, formatPercent, formatRate } from '../units';

/** What the rules of rateRules.ts say. */
export const rateTexts = {
  gameSlower: (most: number, fps: number) => ({
    title: `The game shows ${formatFps(most)}, the file asks for ${formatFps(fps)}`,
    text: `${formatPercent(1 - most / fps)} of the frames will be repeats of the one before: they take bits and room and show nothing new.`,
  }),
  capEqualsRate: (cap: number) => ({
    title: `Cap and file both run at ${formatFps(cap)}`,
    text: 'They beat against each other: with 1 ms of jitter about 5 % of the frames repeat, with a cap at twice the rate none.',
  }),
  unevenSteps: (cap: number, fps: number, steps: readonly number[]) => ({
    title: `${formatFps(cap)} does not go evenly into ${formatFps(fps)}`,
    text: `Frames of the file are ${steps.join(' or ')} of the game's apart in turns, which is seen in steady motion.`,
  }),
  variableRefresh: (fps: number) => ({
    title: 'The display follows the game, the file does not',
    text: `With variable refresh every frame is shown when it is ready; the file keeps ${formatFps(fps)} all the same, so what looks even while playing may not in it.`,
  }),
  framesNotKept: (free: number, fps: number) => ({
    title: `${Math.round(free - fps)} of ${Math.round(free)} fps are drawn and not kept`,
    text: `A cap at ${formatFps(fps * 2)} frees processor and card for recording. Against it: some limiters stutter; a trial tells.`,
  }),
  moreFpsThanShown: (fps: number, shownFps: number) => ({
    title: `${formatFps(fps)} are filed, ${formatFps(shownFps)} are shown`,
    text: 'The destination converts it, and chooses which frames go. Every frame more is work for Encode and Drive.',
  }),
  mainsFamily: ({ fps, mainsHz, num, den }: { fps: number; mainsHz: 60 | 50; num: number; den: number }) => ({
    title: `${formatFps(fps)} is not a rate of a ${mainsHz} Hz country`,
    text: `A broadcaster converts it to ${formatFps(num / den)}, with frames repeated or left out. Most sites do not care.`,
  }),
  fractionalRate: (rate: { num: number; den: number }) => ({
    title: `${formatRate(rate)} beside a game at a whole rate`,
    text: 'One frame in 1001 is left out or repeated. Some destinations take only this rate, others do not care: leave it if yours asks for it.',
  }),
  motionAt30: (fps: number) => ({
    title: `Fast motion at ${formatFps(fps)}`,
    text: 'Half of the movement is not in the file. Encode has time for twice the frames.',
  }),
  calmAt60: {
    title: 'Little moves, and 60 frames a second are filed',
    text: 'At 30 each picture stands for 33 ms: where little moves it shows the same for half the work. 60 keeps the pointer and scrolling smooth.',
  },
  slowMotionShort: ({
    fps,
    shownFps,
    slowPercent,
    needed,
  }: {
    fps: number;
    shownFps: number;
    slowPercent: number;
    needed: number;
  }) => ({
    title: `${formatFps(fps)} play at ${formatPercent(shownFps / fps)} of the speed, ${slowPercent} % are wanted`,
    text: `${formatFps(needed)} are needed on a timeline of ${shownFps} fps; below that frames are shown twice.`,
  }),
  below25: (fps: number) => ({
    title: `At ${formatFps(fps)} each picture stands for ${Math.round(1000 / fps)} ms`,
    text: 'Film has 24 a second; below that motion is seen as single pictures.',
  }),
  highRatePage: {
    title: 'From 120 fps up this page should not be watched',
    text: 'Drawing the live path competes with a game and an encoder that have 8 ms a frame or less.',
  },
  limiters: (held: ('driver cap' | 'battery saving' | 'quiet mode')[]) => ({
    title: `${held.join(' and ')} can hold the game back`,
    text: 'A limiter outside the game keeps it below its cap, and its frame times uneven.',
  }),
  displaySync: {
    title: 'Sync to the display ties the game to the screen’s rate',
    text: 'No torn pictures, but a frame that is late waits a whole refresh, and the rate drops in steps. Without it the picker takes whole frames all the same.',
  },
  rateUnknown: {
    title: 'The game’s rate is not known',
    text: 'Its work is assumed, so play cost and misses have a wide range.',
  },
  motionUnknown: {
    title: 'The game’s motion is not known',
    text: 'The size may be three times smaller or larger than the middle.',
  },
};
