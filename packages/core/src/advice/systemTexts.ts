import type { EncoderPlace } from '../codec/encoders';
import { formatBytes, listWords, plural, formatMs } from '../units';

/** What the rules of systemRules.ts say. */
export const systemTexts = {
  memoryShort: (need: number, memoryBytes: number) => ({
    title: `The game needs ${need} GB of ${formatBytes(memoryBytes)}`,
    text: 'With system and recorder beside it memory runs short, and the game stalls while it is swapped.',
  }),
  extras: (costly: ('overlay' | 'browser' | 'another recorder' | 'live output')[]) => ({
    title: `${listWords(costly)} ${costly.length === 1 ? 'runs' : 'run'} beside the game`,
    text: 'Each takes frames from it, or an encoder from us; two recorders share one block.',
  }),
  pictureFilters: {
    title: 'Picture filters of the driver run on every frame',
    text: 'They cost the card time in every frame, also in those that nobody records.',
  },
  othersBusy: (othersCores: number, cores: number, trial: number) => ({
    title: `Other programs used ${othersCores.toFixed(1)} of ${plural(cores, 'core')} in trial ${trial}`,
    text: 'What they take is missing to game and encoder.',
  }),
  priority: (busiest: number, budget: number) => ({
    title: 'Game and encoder ask for the processor at once',
    text: `Encode takes ${formatMs(busiest)} of ${formatMs(budget)} in the busiest 1 %, and the system shares evenly. Which of both comes first is the system’s setting; with a higher priority for the recorder the game pays, with a lower one the file.`,
  }),
  hdrDisplay: (name: string) => ({
    title: `${name} shows a high dynamic range, the file does not`,
    text: 'Files here have 8 bits of Rec. 709: what is brighter than their white is cut off, or all of it looks grey.',
  }),
  switchHdrOff: 'Switch HDR off in the system’s display settings and in the game while recording.',
  twoChips: (place: EncoderPlace) => ({
    title: 'This PC has two graphics chips',
    text: `A picture that one draws and the other ${place === 'software' ? 'shows' : 'shows or encodes'} is carried across in every frame, which costs the game some of its own.`,
  }),
  sameChip:
    'In the system’s list of programs, set the game to the chip its display hangs on. Which block is the better one is told by a trial of each.',
  keyClash: (clash: string[]) => ({
    title: `The game and this page both use ${listWords(clash.map((key) => key.toUpperCase()))}`,
    text: 'Ours act only while this page is in front; the game does not get them then, and we do not get the game’s.',
  }),
};
