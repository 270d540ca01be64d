import type {
  CameraReport,
  FrameRate,
  LedgerSummary,
  Likeness,
  LoadFigure,
  PlayCost,
  SoundReport,
} from '@mellow/model';
import type { QualityWord } from '../codec/pictureQuality';
import type { SizePx } from '../picture/shape';
import {
  capitalised,
  formatCount,
  formatDbfs,
  formatDuration,
  formatFps,
  formatMeanFps,
  formatMs,
  formatMsNumber,
  formatPercent,
  formatRate,
  formatSeconds,
  formatSize,
  plural,
} from '../units';

export interface FindingWords {
  title: string;
  text: string;
  change: string | null;
}

const needs = (load: LoadFigure): string =>
  `It needs ${formatMs(load.busiestMs)} of ${formatMs(load.budgetMs)} in its busiest second, usually ${formatMs(load.usualMs)}.`;

const shares = (processor: LedgerSummary['processor']): string =>
  processor
    ? `Of ${plural(processor.cores, 'core')} the game took ${formatPercent(processor.gameShare)}, recording ${formatPercent(processor.recorderShare)}, others ${formatPercent(processor.othersShare)}.`
    : 'The load of the processor is not known here.';

/** So many threads that are ready and wait, in the mean, are a processor with too little left. */
const noticedWaiting = 0.5;
/** Others take a processor away from this share on (`disturbedShare`); the game does where it takes half of it and more than recording. */
const othersTake = 0.1;
const gameTakes = 0.5;
function takenBy(processor: LedgerSummary['processor']): 'others' | 'game' | null {
  if (!processor) return null;
  if (processor.othersShare > othersTake) return 'others';
  return processor.gameShare >= gameTakes && processor.gameShare > processor.recorderShare ? 'game' : null;
}

/** What the findings of findings.ts say. `lost` is a count in words: "9 frames of 600 (1.5 %)". */
export const findingTexts = {
  playCost: (share: number, cost: PlayCost, { processor }: LedgerSummary, software: boolean): FindingWords => ({
    title: `Recording takes ${formatPercent(share)} of the game`,
    text: `${formatMeanFps(cost.without.meanFps)} without recording, ${formatMeanFps(cost.with.meanFps)} with it, on the same passages in turns${cost.interval ? `; between ${formatPercent(cost.interval.low)} and ${formatPercent(cost.interval.high)} in nine of ten such trials` : ''}. ${shares(processor)}`,
    change: software
      ? 'Use an encoder block where one works, a lighter effort, a smaller size or a lower rate.'
      : 'File at a smaller size or a lower rate, or cap the game’s frame rate.',
  }),
  slowedByRecording: (repeats: number, cost: PlayCost, rate: FrameRate): FindingWords => ({
    title: `Recording makes the game too slow for the file: ${plural(repeats, 'repeat')}`,
    text: `It shows ${formatMeanFps(cost.without.meanFps)} without recording and ${formatMeanFps(cost.with.meanFps)} with it, for ${formatRate(rate)}.`,
    change: 'Lighten the recording rather than the game: a lighter effort, a smaller size or a lower rate.',
  }),
  tailLost: (lostS: number, endText: string | null, filed: number, survives: boolean): FindingWords => ({
    title: `The last ${formatSeconds(lostS)} are lost`,
    text: `${endText ?? 'The take was interrupted.'} ${plural(filed, 'picture')} can be played.`,
    change: survives ? null : 'Record to Matroska: it survives a crash.',
  }),
  encoderTooSlow: (lost: string, load: LoadFigure | null, lightest: boolean): FindingWords => ({
    title: `The encoder is too slow: ${lost} lost`,
    text: load ? needs(load) : 'Its load is not known here.',
    change: lightest ? 'File at a smaller size or a lower frame rate.' : 'Take a lighter effort.',
  }),
  blockKeptWaiting: (lost: string, load: LoadFigure): FindingWords => ({
    title: `The encoder block was kept waiting: ${lost} lost at Encode`,
    text: `Alone it takes ${formatMs(load.usualMs)} of ${formatMs(load.budgetMs)} a frame. Pictures reach it by the graphics engine, which the game uses.`,
    change: 'Cap the game’s frame rate, so that the graphics have room, or take the block of another chip.',
  }),
  /** What took the time is told by what was measured; where that tells nothing, so do the words. */
  encodeWaited: (
    lost: string,
    load: LoadFigure,
    waiting: number | null,
    processor: LedgerSummary['processor'],
  ): FindingWords => {
    const who = takenBy(processor);
    const title =
      waiting !== null && waiting >= noticedWaiting ? 'Encode waited for the processor' : 'Encode was late at times';
    return {
      title: `${title}: ${lost} lost`,
      text: `${needs(load)} ${waiting === null ? 'How long its threads waited is not known here.' : `On average ${waiting.toFixed(1)} of its threads were ready and waited for a processor.`} ${shares(processor)}`,
      change:
        who === 'others'
          ? 'Close other programs, and make the trial again.'
          : who === 'game'
            ? 'Cap the game’s frame rate: it takes the most of the processor.'
            : 'A lighter effort or a smaller size leaves the encoder more time to spare.',
    };
  },
  sizeLate: (lost: string, load: LoadFigure | null, quick: boolean, grabbed: boolean): FindingWords => ({
    title: `${grabbed ? 'Size, which also turns the screen’s colours into the file’s,' : 'Scaling'} lost ${lost}`,
    text: load
      ? `It takes ${formatMs(load.usualMs)} a frame, ${formatMs(load.busiestMs)} in the busiest 1 %, of ${formatMs(load.budgetMs)}.`
      : 'It was still at an earlier frame.',
    change: grabbed
      ? 'File at a smaller size or at a lower rate.'
      : quick
        ? 'File at the game’s own size, or at a smaller one.'
        : 'Choose the quick filter (bilinear), or file at the game’s own size.',
  }),
  pickerLate: (lost: string, processor: LedgerSummary['processor']): FindingWords => ({
    title: `Capture woke too late for ${lost}`,
    text: `${shares(processor)} Capture needs little, but it needs it on time.`,
    change: 'Leave the processor some room: a lighter effort, a cap on the game, fewer programs beside it.',
  }),
  capture: (lost: string, noSource: number, late: number, noPlace: number): FindingWords => ({
    title: `Capture lost ${lost}`,
    text: `${plural(noSource, 'frame')} had no source picture, ${formatCount(late)} came too late, ${formatCount(noPlace)} found no free place.`,
    change: noSource ? 'Start the take when the game already draws.' : 'Lower the load of the stations behind Capture.',
  }),
  grabbed: (
    lost: string,
    { noSource, late, noPlace }: { noSource: number; late: number; noPlace: number },
    load: LoadFigure | null,
  ): FindingWords => ({
    title: `Grabbing the screen lost ${lost}`,
    text: [
      noSource ? `${plural(noSource, 'grab')} failed: what was recorded was hidden, or not there.` : '',
      late ? `${plural(late, 'grab')} came after its frame was due.` : '',
      noPlace ? `${plural(noPlace, 'grab')} found no free place.` : '',
      load
        ? `A grab takes ${formatMs(load.usualMs)}, ${formatMs(load.busiestMs)} in the busiest 1 %, of ${formatMs(load.budgetMs)}.`
        : '',
    ]
      .filter(Boolean)
      .join(' '),
    change:
      late || noPlace
        ? 'Cap the game’s frame rate or file at a lower one: game, screen and recorder share the processor.'
        : 'Keep the game’s window open and shown while it is recorded.',
  }),
  drive: (lost: string, summary: LedgerSummary, stalled: boolean): FindingWords => ({
    title: `The drive lost ${lost}`,
    text: `Up to ${(summary.bytesQueuedPeak / 1e6).toFixed(0)} MB waited for it; its slowest answer took ${formatMsNumber(summary.driveLatencyMsPeak)} ms. ${stalled ? 'It stood still at times.' : 'It is slower than the take.'}`,
    change: stalled ? 'Use another drive for takes.' : 'Use a faster drive, or make the file smaller.',
  }),
  failedAt: (lost: string, station: 'Size' | 'Encode'): FindingWords => ({
    title: `${lost} failed at ${station}`,
    text: 'The log says what the library reported.',
    change: 'Read the log of this take.',
  }),
  packLate: (lost: string): FindingWords => ({
    title: `Pack fell behind: ${lost} refused`,
    text: 'Encoded pictures waited longer than may be lost if the recorder dies: what joins picture and sound got too little of the processor.',
    change: 'Fewer lanes, or lanes as plain samples; or a lighter effort, so that the processor has some time left.',
  }),
  neverInFile: (packets: number): FindingWords => ({
    title: `${plural(packets, 'packet')} never reached the file`,
    text: 'The log says what the library reported.',
    change: 'Read the log of this take.',
  }),
  gameSlow: (repeats: number, drawn: number, rate: FrameRate, capBelow: number | null, fps: number): FindingWords => ({
    title: `The game drew less than the file asks: ${plural(repeats, 'repeat')}`,
    text: `${drawn.toFixed(1)} new pictures a second for ${formatRate(rate)}. Repeats are filed and are no loss, but motion is uneven.`,
    change:
      capBelow !== null
        ? `Raise the game’s cap above ${formatFps(fps)}, or file at ${formatFps(capBelow)}.`
        : 'File at a lower rate, or lower the game’s graphics.',
  }),
  sourceSize: (name: string, chosen: SizePx, now: SizePx, file: SizePx): FindingWords => ({
    title: `${capitalised(name)} is ${formatSize(now.widthPx, now.heightPx)} now, and was ${formatSize(chosen.widthPx, chosen.heightPx)} when it was chosen`,
    text: `The recipe was tuned for the size that it had: the file is ${formatSize(file.widthPx, file.heightPx)}, ${now.widthPx * now.heightPx < file.widthPx * file.heightPx ? 'of enlarged pixels' : 'and what is finer than that is lost'}.`,
    change: 'Choose it again on Path, under Capture: game, size and recipe follow it.',
  }),
  sampleLeftOut: (pictures: number): FindingWords => ({
    title: `The sample was not played in full: ${plural(pictures, 'picture')} left out`,
    text: 'It could not be decoded as fast as it plays, so this trial does not show what other trials of it show.',
    change: 'Compare it with none of them. Make a sample of the source itself, under Capture: that decodes faster.',
  }),
  stoodStill: (repeats: number, longestStillMs: number, grabbed: boolean): FindingWords => ({
    title: `The picture stood still at times: ${plural(repeats, 'repeat')}`,
    text: `The longest still picture lasted ${formatMs(longestStillMs)}. ${grabbed ? 'Nothing changed where it was recorded: the game was at rest, or did not draw there.' : 'The game drew nothing then, as when it loads.'}`,
    change: null,
  }),
  phase: (repeats: number, fps: number): FindingWords => ({
    title: `Game and file beat against each other: ${plural(repeats, 'repeat')}`,
    text: 'The next picture came a moment after it was due. It is not the game’s fault and no loss.',
    change: `A cap of ${formatFps(fps * 2)} lets none of them happen.`,
  }),
  worstSecond: (likeness: Likeness, whole: QualityWord, worst: QualityWord, setRate: boolean): FindingWords => ({
    title: `The picture is ${worst} in its worst second`,
    text: `SSIM ${likeness.worstSecondSsim.toFixed(3)} there, ${likeness.ssim.toFixed(3)} over the take (${whole}), in ${plural(likeness.pictures, 'picture')} held against what the encoder was given.`,
    change: setRate
      ? 'Raise the bitrate, or set a quality number, which gives hard passages more.'
      : 'Take a better quality number, or a more thorough effort.',
  }),
  poorPicture: (likeness: Likeness, word: QualityWord, setRate: boolean): FindingWords => ({
    title: `The picture is ${word}`,
    text: `SSIM ${likeness.ssim.toFixed(3)} over the take, ${likeness.worstSecondSsim.toFixed(3)} in its worst second, in ${plural(likeness.pictures, 'picture')} held against what the encoder was given.`,
    change: setRate ? 'Raise the bitrate, or set a quality number.' : 'Take a better quality number.',
  }),
  clipped: (lane: string, peakDbfs: number): FindingWords => ({
    title: `${lane} clips`,
    text: `Its peak is ${formatDbfs(peakDbfs)}: samples are cut off.`,
    change: 'Send fewer sources into this lane.',
  }),
  asleep: (leftOutUs: number): FindingWords => ({
    title: `Nothing ran for ${formatDuration(leftOutUs / 1e6)}`,
    text: 'The PC slept, or the recorder was stopped whole. The file goes on without that time, sound and picture in step.',
    change: 'Keep the PC from sleeping while a take rolls.',
  }),
  cameraAway: ({ name, where, away, awayS }: CameraReport): FindingWords => ({
    title: away
      ? `${capitalised(name)} was away for ${formatSeconds(awayS)}`
      : `${capitalised(name)} brought no picture`,
    text:
      where === 'own-file'
        ? 'Its file has a gap there; what follows is in step again.'
        : 'The game was filed without it meanwhile; what follows is in step again.',
    change: 'Look at its plug, and whether another program uses it.',
  }),
  soundAway: ({ name, away, silenceS }: SoundReport): FindingWords => ({
    title: `${name} was not heard for ${formatSeconds(silenceS)}`,
    text: away
      ? `Its device went away ${away === 1 ? 'once' : `${away} times`}; its lanes went on in silence, so all stay in step.`
      : 'Its samples did not arrive in time; silence stands for them, so all stay in step.',
    change: away
      ? 'Look at its plug and its battery, or choose another device on Sound.'
      : 'Close what keeps the PC busy.',
  }),
  silentLane: (lane: string): FindingWords => ({
    title: `${lane} is silent from beginning to end`,
    text: 'Its lane is in the file and holds nothing that could be heard.',
    change: 'On Sound, look whether its meter moves, and choose another device where it does not.',
  }),
  noisy: (name: string, floorDbfs: number): FindingWords => ({
    title: `${name} has a noise of ${formatDbfs(floorDbfs)} in its quiet second`,
    text: 'Beside a voice at −12 dBFS that is heard, and cleaning it will be heard too.',
    change: 'Move closer to the microphone, and turn down what hums.',
  }),
  disturbed: (othersShare: number): FindingWords => ({
    title: `Other programs used ${formatPercent(othersShare)} of the processor`,
    text: 'Above 10 % a trial tells more about them than about the recipe; its loads are not used for forecasts.',
    change: 'Close what is not needed and repeat the trial.',
  }),
  unsafe: (): FindingWords => ({
    title: 'This file type is lost in a power cut',
    text: 'Plain MP4 keeps its index for the end. This take closed well; a longer one is at risk for its whole length.',
    change: 'Record to Matroska, or to fragmented MP4.',
  }),
};
