import type { EncoderName } from '@mellow/model';
import { encoderWords, type QualityWord, type Standard } from '../codec';
import type { Overload } from '../forecast';
import { formatFps, formatKbps, formatMs, formatPercent, formatSeconds } from '../units';

/** What the rules of encodeRules.ts say. */
export const encodeTexts = {
  encoderNotHere: (encoder: EncoderName, machine: string | undefined, reason: string | null) => ({
    title: `${encoderWords(encoder)} does not work on ${machine ?? 'this machine'}`,
    text: `The test encode said: ${reason ?? 'nothing'}. No take can be made with it.`,
  }),
  blockIdle: (block: EncoderName) => ({
    title: 'An encoder block stands idle',
    text: `${encoderWords(block)} works here and leaves the processor to the game. Against it: by the rate model a block needs more bits for the same picture, and a card that is full makes frames late.`,
  }),
  cardIsFull: (freeFps: number) => ({
    title: 'The game takes all of the card',
    text: `Without a cap it draws ${formatFps(freeFps)} and leaves the block's share late.`,
  }),
  encodeOver: (busiest: number, budget: number, overload: Overload | null) => ({
    title: `Encode needs ${formatMs(busiest)} of ${formatMs(budget)} in the busiest 1 %`,
    text: overload
      ? `It falls behind all the time: its queue is full after ${formatSeconds(overload.untilFullS)}, and then about ${formatPercent(overload.lostShare)} of the frames are lost.`
      : 'It falls behind in busy passages; what its queue cannot hold is lost.',
  }),
  qualityTooFine: ({ quality, enough, then, now }: { quality: number; enough: number; then: number; now: number }) => ({
    title: `Quality ${quality} is finer than can be seen`,
    text: `By the forecast ${enough} cannot be told from the original either, and the file has ${formatPercent(then / now)} of the size. Finer helps only where effects work on it.`,
  }),
  qualityCoarse: (quality: number, word: QualityWord, bitsPerSecond: number) => ({
    title: `Quality ${quality} looks ${word}`,
    text: `By the rate model ${bitsPerSecond > 0 ? formatKbps(bitsPerSecond / 1000) : 'this'} cannot hold what moves here, and no later step brings the detail back.`,
  }),
  bitrateLow: (bitrateKbps: number, perPixel: number, word: QualityWord) => ({
    title: `${formatKbps(bitrateKbps)} are ${perPixel.toFixed(3)} bits a pixel`,
    text: `The picture is expected to be ${word}: what moves here asks for more bits than this leaves it.`,
  }),
  bitrateHigh: (bitrateKbps: number, perPixel: number, kbps: number) => ({
    title: `${formatKbps(bitrateKbps)} are ${perPixel.toFixed(2)} bits a pixel`,
    text: `By the forecast ${formatKbps(kbps)} cannot be told from the original either; the rest only fills the drive.`,
  }),
  constantBitrateWaste: {
    title: 'A constant bitrate fills quiet scenes with nothing',
    text: 'Still menus take as much as fights. Constant quality follows the content; the size is less foreseeable.',
  },
  losslessToPublish: (quality: number, share: number) => ({
    title: 'Lossless keeps more than can be seen',
    text: `It keeps every pixel for effects, and asks for a fast drive with room. By the forecast quality ${quality} cannot be told from it, at ${formatPercent(share)} of the size.`,
  }),
  allColours: (pixels: '4:4:4' | 'rgb') => ({
    title: `${pixels === 'rgb' ? 'Full RGB' : '4:4:4'} is half to twice the data more`,
    text: 'Destinations show 4:2:0, and few players and editors open more. It helps keying and small coloured text.',
  }),
  tenBits: (standard: Standard) => ({
    title: 'Ten bits are more than the source has',
    text: `Pictures come with eight bits here; ten keep what scaling makes between two steps, for smoother skies. ${standard === 'AVC' ? 'In AVC hardly a player or an editor opens them.' : 'Fewer players and editors open them.'}`,
  }),
  priority: {
    above: {
      title: 'The encoder goes before the game',
      text: 'Where the processor is full, the game waits: fewer frames are lost, and its lowest rates get lower. Systems may refuse it without an administrator’s right; the take’s log says so.',
    },
    below: {
      title: 'The encoder goes after the game',
      text: 'Where the processor is full, frames of the file are lost before the game waits. It is the gentlest for play and the first to lose.',
    },
  },
  coloursNotThere: {
    title: 'The practice game draws 4:2:0',
    text: 'More colour samples than the source has are only copies. With a real game they are the game’s own.',
  },
};
