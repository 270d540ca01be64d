import type { RateControl } from '@mellow/model';
import type { Standard } from '../codec';
import { formatFps, formatMs, formatPercent } from '../units';

/** What the rules of groupRules.ts say. */
export const groupTexts = {
  keysFar: (seconds: number, oldEditor: boolean) => ({
    title: `Key pictures every ${seconds.toFixed(1)} s`,
    text: oldEditor
      ? 'The older editor wants one every half second; else it jumps or refuses.'
      : 'Every jump decodes from the last key picture on: the editor crawls.',
  }),
  keysNear: (seconds: number, share: number) => ({
    title: `A key picture every ${seconds.toFixed(2)} s`,
    text: `It makes a moving scene about ${formatPercent(share)} larger than every 2 s and a still one several times. Only older editors need it.`,
  }),
  openGroups: {
    title: 'Open groups lean over a cut',
    text: 'Pictures before a key picture may need those after it; some editors show grey at a cut.',
  },
  oldProfile: (profile: 'main' | 'baseline') => ({
    title: `Profile ${profile === 'main' ? 'Main' : 'Baseline'} leaves savings out`,
    text: 'High is what nearly every player and editor opens; only very old ones do not.',
  }),
  fewThreads: (threads: number) => ({
    title: `The encoder may use ${threads} ${threads === 1 ? 'thread' : 'threads'}`,
    text: 'Fewer threads let a frame take longer, and here Encode has no time to spare.',
  }),
  editorKnowsAvc: (standard: Standard) => ({
    title: `An older editor does not open ${standard}`,
    text: 'The import fails, or the picture stays black.',
  }),
  aboveLevel: (fps: number, written: string, standard: string | null) => ({
    title: `The file will say level ${written}, ${standard ? `the standard asks for ${standard}` : 'the standard has none for it'}`,
    text: `The encoder goes by picture size alone, not by ${formatFps(fps)} or the bitrate. Players on a PC do not mind; a television or an older box may stutter.`,
  }),
  notInBrowser: (standard: Standard, rateControl: RateControl) => ({
    title: `This page cannot play ${standard}${rateControl === 'lossless' ? ' lossless' : ''}`,
    text: 'What every browser decodes is AVC and AV1 in 4:2:0; some take HEVC too. The file plays in a player, and the verdict reads it all the same.',
  }),
  effortToSpare: ({
    bitsAfter,
    bits,
    usualAfterMs,
    usualMs,
  }: {
    bitsAfter: number;
    bits: number;
    usualAfterMs: number;
    usualMs: number;
  }) => ({
    title: 'Encode has time to spare',
    text: `One step more effort saves about ${formatPercent(1 - bitsAfter / bits)} of the size at one quality and costs ${formatMs(usualAfterMs - usualMs)} a frame.`,
  }),
  newerStandard: (share: number) => ({
    title: 'HEVC on the same card is smaller at one look',
    text: `About ${share.toFixed(2)} of the bits for the same picture, by the curves of both. Two trials of the same passage settle it for this game.`,
  }),
  thirstyBFrames: (bFrames: number, workShare: number, bitsShare: number) => ({
    title: `${bFrames} B-frames cost ${formatPercent(workShare)} of the encoder's work`,
    text: `They save about ${formatPercent(bitsShare)} of the bits. With Encode this near its budget, none is lighter.`,
  }),
};
