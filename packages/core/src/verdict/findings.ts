import { type Cause, type Finding, type LossRun, type Take } from '@mellow/model';
import {
  formatCount,
  formatDbfs,
  formatFps,
  formatMs,
  formatMsNumber,
  formatPercent,
  formatRate,
  formatSeconds,
  framesPerSecond,
  plural,
} from '../units';
import { containerWords } from '../recipe/words';

type Input = Pick<
  Take,
  'recipe' | 'facts' | 'summary' | 'state' | 'end' | 'endText' | 'game' | 'tailFrames' | 'playCost'
>;

/** Loads from this share of the budget on mean that the station itself is too slow. */
const tooSlowShare = 0.8;

/** What stands out in a take, losses first, each with figures and what to change. */
export function takeFindings(take: Input, runs: readonly LossRun[]): Finding[] {
  const { summary } = take;
  if (!summary) return [];
  const findings: Finding[] = [];
  const count = (cause: Cause) => summary.causes[cause] ?? 0;
  const firstOf = (...causes: Cause[]) => runs.find((r) => causes.includes(r.cause as Cause))?.atUs ?? null;
  const ofDue = (n: number) =>
    `${plural(n, 'frame')} of ${formatCount(summary.due)} (${formatPercent(n / summary.due)})`;
  const add = (finding: Omit<Finding, 'station'> & { station?: Finding['station'] }) =>
    findings.push({ ...finding, station: finding.station ?? null });

  if (take.tailFrames > 0) {
    const lostS = (take.tailFrames * take.recipe.rate.den) / take.recipe.rate.num;
    add({
      id: 'tail-lost',
      tone: 'loss',
      station: 'drive',
      title: `The last ${formatSeconds(lostS)} are lost`,
      text: `${take.endText ?? 'The take was interrupted.'} ${plural(summary.filed, 'picture')} can be played.`,
      change: containerWords[take.recipe.container].survives ? null : 'Record to Matroska: it survives a crash.',
      atUs: null,
    });
  }
  encodeFinding(take, count('queue-full'), firstOf('queue-full'), ofDue, add);
  const sizeLate = count('size-late');
  if (sizeLate) {
    const load = summary.loads.size;
    add({
      id: 'size-late',
      tone: 'loss',
      station: 'size',
      title: `Scaling lost ${ofDue(sizeLate)}`,
      text: load
        ? `It takes ${formatMs(load.usualMs)} a frame, ${formatMs(load.busiestMs)} in the busiest 1 %, of ${formatMs(load.budgetMs)}.`
        : 'Scaling was still at an earlier frame.',
      change:
        take.recipe.size.filter === 'bilinear' || take.recipe.size.filter === 'nearest'
          ? 'File at the game’s own size, or at a smaller one.'
          : 'Choose the quick filter (bilinear), or file at the game’s own size.',
      atUs: firstOf('size-late'),
    });
  }
  const pickerLate = count('picker-late');
  if (pickerLate) {
    add({
      id: 'picker-late',
      tone: 'loss',
      station: 'capture',
      title: `Capture woke too late for ${ofDue(pickerLate)}`,
      text: processorWords(take) + ' Capture needs little, but it needs it on time.',
      change: 'Leave the processor some room: a lighter effort, a cap on the game, fewer programs beside it.',
      atUs: firstOf('picker-late'),
    });
  }
  const otherCapture = count('pool-empty') + count('no-source') + count('grab-late');
  if (otherCapture) {
    add({
      id: 'capture',
      tone: 'loss',
      station: 'capture',
      title: `Capture lost ${ofDue(otherCapture)}`,
      text: `${plural(count('no-source'), 'frame')} had no source picture, ${formatCount(count('grab-late'))} came too late, ${formatCount(count('pool-empty'))} found no free place.`,
      change: count('no-source')
        ? 'Start the take when the game already draws.'
        : 'Lower the load of the stations behind Capture.',
      atUs: firstOf('pool-empty', 'no-source', 'grab-late'),
    });
  }
  const drive = count('drive-slow') + count('drive-stalled');
  if (drive) {
    add({
      id: 'drive',
      tone: 'loss',
      station: 'drive',
      title: `The drive lost ${ofDue(drive)}`,
      text: `Up to ${(summary.bytesQueuedPeak / 1e6).toFixed(0)} MB waited for it; its slowest answer took ${formatMsNumber(summary.driveLatencyMsPeak)} ms. ${count('drive-stalled') ? 'It stood still at times.' : 'It is slower than the take.'}`,
      change: 'Use a faster drive, a gentler quality number or a smaller size.',
      atUs: firstOf('drive-slow', 'drive-stalled'),
    });
  }
  for (const [cause, station] of [
    ['size-error', 'size'],
    ['encode-error', 'encode'],
    ['not-found', 'pack'],
  ] as const) {
    if (!count(cause)) continue;
    add({
      id: cause,
      tone: 'loss',
      station,
      title:
        cause === 'not-found'
          ? `${plural(count(cause), 'packet')} never reached the file`
          : `${ofDue(count(cause))} failed at ${station === 'size' ? 'Size' : 'Encode'}`,
      text: 'The log says what the library reported.',
      change: 'Read the log of this take.',
      atUs: firstOf(cause),
    });
  }
  repeatFindings(take, count, add);
  soundFindings(take, add);
  if (summary.disturbed && summary.processor) {
    add({
      id: 'disturbed',
      tone: 'look',
      title: `Other programs used ${formatPercent(summary.processor.othersShare)} of the processor`,
      text: 'Above 10 % a trial tells more about them than about the recipe; its loads are not used for forecasts.',
      change: 'Close what is not needed and repeat the trial.',
      atUs: null,
    });
  }
  if (!containerWords[take.recipe.container].survives && take.state === 'closed') {
    add({
      id: 'unsafe',
      tone: 'look',
      station: 'pack',
      title: 'This file type is lost in a crash',
      text: 'Plain MP4 keeps its index for the end. This take closed well; a longer one is at risk for its whole length.',
      change: 'Record to Matroska, or to fragmented MP4.',
      atUs: null,
    });
  }
  return findings;
}

/** "Encoder too slow" and "processor taken by others" are different findings, told apart by loads and waiting. */
function encodeFinding(
  take: Input,
  lost: number,
  atUs: number | null,
  ofDue: (n: number) => string,
  add: (f: Omit<Finding, 'station'> & { station?: Finding['station'] }) => void,
): void {
  const { summary } = take;
  if (!lost || !summary) return;
  const load = summary.loads.encode;
  const waiting = summary.encodeWaitingShare ?? 0;
  const tooSlow = load === null || load.busiestMs >= tooSlowShare * load.budgetMs;
  const needs = load
    ? `It needs ${formatMs(load.busiestMs)} of ${formatMs(load.budgetMs)} in its busiest second, usually ${formatMs(load.usualMs)}.`
    : 'Its load is not known here.';
  if (tooSlow) {
    add({
      id: 'encoder-too-slow',
      tone: 'loss',
      station: 'encode',
      title: `The encoder is too slow: ${ofDue(lost)} lost`,
      text: needs,
      change:
        take.recipe.encode.effort === 'lightest'
          ? 'File at a smaller size or a lower frame rate.'
          : 'Take a lighter effort.',
      atUs,
    });
  } else {
    add({
      id: 'processor-taken',
      tone: 'loss',
      station: 'encode',
      title: `The processor was taken by others: ${ofDue(lost)} lost at Encode`,
      text: `${needs} Its threads were ready and waited ${formatPercent(waiting)} of the time. ${processorWords(take)}`,
      change: 'Cap the game’s frame rate or close other programs; a lighter encoder alone gains little.',
      atUs,
    });
  }
}

function processorWords(take: Input): string {
  const p = take.summary?.processor;
  if (!p) return 'The load of the processor is not known here.';
  return `Of ${plural(p.cores, 'core')} the game took ${formatPercent(p.gameShare)}, recording ${formatPercent(p.recorderShare)}, others ${formatPercent(p.othersShare)}.`;
}

function repeatFindings(
  take: Input,
  count: (cause: Cause) => number,
  add: (f: Omit<Finding, 'station'> & { station?: Finding['station'] }) => void,
): void {
  const { summary, recipe, game } = take;
  if (!summary) return;
  const slow = count('slow');
  const stalled = count('stalled');
  const phase = count('phase');
  const fps = framesPerSecond(recipe.rate);
  if (slow > summary.due * 0.02) {
    const drawn = summary.pacing.newPerSecond;
    add({
      id: 'game-slow',
      tone: 'look',
      station: 'game',
      title: `The game drew less than the file asks: ${plural(slow, 'repeat')}`,
      text: `${drawn.toFixed(1)} new pictures a second for ${formatRate(recipe.rate)}. Repeats are filed and are no loss, but motion is uneven.`,
      change:
        game.capFps !== null && game.capFps < fps
          ? `Raise the game’s cap above ${formatFps(fps)}, or file at ${formatFps(game.capFps)}.`
          : 'File at a lower rate, or lower the game’s graphics.',
      atUs: null,
    });
  }
  if (stalled) {
    add({
      id: 'game-stalled',
      tone: 'note',
      station: 'game',
      title: `The game stood still at times: ${plural(stalled, 'repeat')}`,
      text: `The longest still picture lasted ${formatMs(summary.pacing.longestStillMs)}. This is the game’s own doing, as when it loads.`,
      change: null,
      atUs: null,
    });
  }
  if (phase > summary.due * 0.02) {
    add({
      id: 'phase',
      tone: 'note',
      station: 'game',
      title: `Game and file beat against each other: ${plural(phase, 'repeat')}`,
      text: 'The next picture came a moment after it was due. It is not the game’s fault and no loss.',
      change: `A cap of ${formatFps(fps * 2)} lets none of them happen.`,
      atUs: null,
    });
  }
}

function soundFindings(take: Input, add: (f: Omit<Finding, 'station'>) => void): void {
  take.summary?.lanePeakDbfs.forEach((peak, i) => {
    if (peak !== null && peak > -0.1) {
      add({
        id: `clipped-${i}`,
        tone: 'look',
        title: `${take.recipe.lanes[i]?.name ?? `Lane ${i + 1}`} clips`,
        text: `Its peak is ${formatDbfs(peak)}: samples are cut off.`,
        change: 'Send fewer sources into this lane.',
        atUs: null,
      });
    }
  });
}
