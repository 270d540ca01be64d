import { isGrabbed, roleOf, type Cause, type Finding, type LossRun, type Station, type Take } from '@mellow/model';
import { encoderFacts } from '../codec/encoders';
import { qualityWord, type QualityWord } from '../codec/pictureQuality';
import { containerWords, sourceWords } from '../recipe/words';
import { playCostShare } from '../ledger/gameRun';
import { noticedSilenceS } from '../sound';
import { formatCount, formatPercent, framesPerSecond, plural } from '../units';
import { findingTexts, type FindingWords } from './findingTexts';
import { silentLanes, sourceChanged } from './found';

type Input = Pick<
  Take,
  | 'recipe'
  | 'source'
  | 'facts'
  | 'summary'
  | 'state'
  | 'end'
  | 'endText'
  | 'game'
  | 'tailFrames'
  | 'playCost'
  | 'likeness'
  | 'sounds'
  | 'camera'
  | 'cuts'
  | 'sampleLeftOut'
>;

/** A take as the rules look at it. */
interface Look {
  take: Input;
  summary: NonNullable<Take['summary']>;
  fps: number;
  count(...causes: Cause[]): number;
  /** When the first run of losses by one of these causes began. */
  firstOf(...causes: Cause[]): number | null;
  /** "9 frames of 600 (1.5 %)". */
  ofDue(frames: number): string;
}

type Found = FindingWords & { id?: string; atUs?: number | null };

/** One finding: when it is made, with its figures; its words stand in findingTexts.ts. */
interface FindingRule {
  id: string;
  tone: Finding['tone'];
  station: Station | null;
  check(look: Look): Found | readonly Found[] | null;
}

/** Loads from this share of the budget on mean that the station itself is too slow. */
const tooSlowShare = 0.8;
/** Repeats from this share of the due frames on are worth a finding. */
const noticedShare = 0.02;
/** Peaks from here on are cut off. */
const clippingDbfs = -0.1;

/** A room so loud is heard beside a voice at -12 dBFS (common practice: 40 dB below). */
const noisyDbfs = -50;

const encoderTooSlow = ({ summary }: Look): boolean => {
  const load = summary.loads.encode;
  return load === null || load.busiestMs >= tooSlowShare * load.budgetMs;
};
const inSoftware = ({ take }: Look): boolean => encoderFacts[take.recipe.encode.encoder].place === 'software';
const survives = ({ take }: Look): boolean => containerWords[take.recipe.container].survives;

/** The game shows less than the file asks only while it is recorded: the recording is the cause, and not the game. */
const slowedByRecording = ({ take: { playCost }, fps }: Look): boolean =>
  playCost !== null && playCost.without.meanFps >= fps * 0.99 && playCost.with.meanFps < fps * 0.99;
/** Share of its frames that a finding is made of, where the interval does not reach none. */
const noticedCost = 0.03;

const rules: readonly FindingRule[] = [
  {
    id: 'play-cost',
    tone: 'look',
    station: 'game',
    check({ take: { playCost, recipe }, summary }) {
      if (!playCost) return null;
      const share = playCostShare(playCost.with.meanFps, playCost.without.meanFps);
      if (share < noticedCost || (playCost.interval && playCost.interval.low <= 0)) return null;
      return findingTexts.playCost(share, playCost, summary, encoderFacts[recipe.encode.encoder].place === 'software');
    },
  },
  {
    id: 'tail-lost',
    tone: 'loss',
    station: 'drive',
    check(look) {
      const { tailFrames, endText } = look.take;
      if (tailFrames <= 0) return null;
      return findingTexts.tailLost(tailFrames / look.fps, endText, look.summary.filed, survives(look));
    },
  },
  // An encoder that is too slow and one that had to wait are different findings, told apart by loads and waiting.
  {
    id: 'encoder-too-slow',
    tone: 'loss',
    station: 'encode',
    check(look) {
      const lost = look.count('queue-full');
      if (!lost || !encoderTooSlow(look)) return null;
      const lightest = look.take.recipe.encode.effort === 'lightest';
      const words = findingTexts.encoderTooSlow(look.ofDue(lost), look.summary.loads.encode, lightest);
      return { ...words, atUs: look.firstOf('queue-full') };
    },
  },
  {
    id: 'block-kept-waiting',
    tone: 'loss',
    station: 'encode',
    check(look) {
      const lost = look.count('queue-full');
      const load = look.summary.loads.encode;
      if (!lost || !load || encoderTooSlow(look) || inSoftware(look)) return null;
      return { ...findingTexts.blockKeptWaiting(look.ofDue(lost), load), atUs: look.firstOf('queue-full') };
    },
  },
  {
    id: 'encode-waited',
    tone: 'loss',
    station: 'encode',
    check(look) {
      const { loads, encodeWaitingShare, processor } = look.summary;
      const lost = look.count('queue-full');
      if (!lost || !loads.encode || encoderTooSlow(look) || !inSoftware(look)) return null;
      const words = findingTexts.encodeWaited(look.ofDue(lost), loads.encode, encodeWaitingShare, processor);
      return { ...words, atUs: look.firstOf('queue-full') };
    },
  },
  {
    id: 'size-late',
    tone: 'loss',
    station: 'size',
    check(look) {
      const lost = look.count('size-late');
      if (!lost) return null;
      const { filter } = look.take.recipe.size;
      const quick = filter === 'bilinear' || filter === 'nearest';
      const words = findingTexts.sizeLate(
        look.ofDue(lost),
        look.summary.loads.size,
        quick,
        isGrabbed(look.take.source),
      );
      return { ...words, atUs: look.firstOf('size-late') };
    },
  },
  {
    id: 'picker-late',
    tone: 'loss',
    station: 'capture',
    check(look) {
      const lost = look.count('picker-late');
      if (!lost) return null;
      const words = findingTexts.pickerLate(look.ofDue(lost), look.summary.processor);
      return { ...words, atUs: look.firstOf('picker-late') };
    },
  },
  {
    id: 'capture',
    tone: 'loss',
    station: 'capture',
    check(look) {
      const [noSource, late, noPlace] = [look.count('no-source'), look.count('grab-late'), look.count('pool-empty')];
      const lost = noSource + late + noPlace;
      if (!lost) return null;
      const words = isGrabbed(look.take.source)
        ? findingTexts.grabbed(look.ofDue(lost), { noSource, late, noPlace }, look.summary.loads.capture)
        : findingTexts.capture(look.ofDue(lost), noSource, late, noPlace);
      return { ...words, atUs: look.firstOf('pool-empty', 'no-source', 'grab-late') };
    },
  },
  {
    id: 'drive',
    tone: 'loss',
    station: 'drive',
    check(look) {
      const lost = look.count('drive-slow', 'drive-stalled');
      if (!lost) return null;
      const words = findingTexts.drive(look.ofDue(lost), look.summary, look.count('drive-stalled') > 0);
      return { ...words, atUs: look.firstOf('drive-slow', 'drive-stalled') };
    },
  },
  {
    id: 'size-error',
    tone: 'loss',
    station: 'size',
    check: (look) =>
      look.count('size-error')
        ? { ...findingTexts.failedAt(look.ofDue(look.count('size-error')), 'Size'), atUs: look.firstOf('size-error') }
        : null,
  },
  {
    id: 'encode-error',
    tone: 'loss',
    station: 'encode',
    check(look) {
      const lost = look.count('encode-error');
      if (!lost) return null;
      return { ...findingTexts.failedAt(look.ofDue(lost), 'Encode'), atUs: look.firstOf('encode-error') };
    },
  },
  {
    id: 'pack-late',
    tone: 'loss',
    station: 'pack',
    check: (look) =>
      look.count('pack-late')
        ? { ...findingTexts.packLate(look.ofDue(look.count('pack-late'))), atUs: look.firstOf('pack-late') }
        : null,
  },
  {
    id: 'not-found',
    tone: 'loss',
    station: 'pack',
    check: (look) =>
      look.count('not-found')
        ? { ...findingTexts.neverInFile(look.count('not-found')), atUs: look.firstOf('not-found') }
        : null,
  },
  {
    id: 'source-size',
    tone: 'look',
    station: 'capture',
    check({ take: { source, recipe } }) {
      const chosen = recipe.source;
      if (!isGrabbed(source) || !isGrabbed(chosen) || !sourceChanged(source, recipe)) return null;
      return findingTexts.sourceSize(sourceWords(source), chosen, source, recipe.size);
    },
  },
  {
    id: 'sample-left-out',
    tone: 'look',
    station: 'game',
    check: ({ take }) => (take.sampleLeftOut ? findingTexts.sampleLeftOut(take.sampleLeftOut) : null),
  },
  {
    id: 'game-slow',
    tone: 'look',
    station: 'game',
    check(look) {
      const { count, summary, take, fps } = look;
      const repeats = count('slow');
      // What a sample did not show is no game that is slow.
      if (repeats <= summary.due * noticedShare || take.sampleLeftOut > 0) return null;
      if (slowedByRecording(look) && take.playCost)
        return findingTexts.slowedByRecording(repeats, take.playCost, take.recipe.rate);
      const { capFps } = take.game;
      const capBelow = capFps !== null && capFps < fps ? capFps : null;
      return findingTexts.gameSlow(repeats, summary.pacing.newPerSecond, take.recipe.rate, capBelow, fps);
    },
  },
  {
    id: 'game-stalled',
    tone: 'note',
    station: 'game',
    check: ({ count, summary, take }) =>
      count('stalled') && take.sampleLeftOut === 0
        ? findingTexts.stoodStill(count('stalled'), summary.pacing.longestStillMs, isGrabbed(take.source))
        : null,
  },
  {
    id: 'phase',
    tone: 'note',
    station: 'game',
    check: ({ count, summary, fps }) =>
      count('phase') > summary.due * noticedShare ? findingTexts.phase(count('phase'), fps) : null,
  },
  // One second much worse than the whole: what a set bitrate does to a hard passage.
  {
    id: 'worst-second',
    tone: 'look',
    station: null,
    check({ take: { likeness, recipe } }) {
      if (!likeness) return null;
      const [whole, worst] = [qualityWord(likeness.ssim), qualityWord(likeness.worstSecondSsim)];
      if (!isPoor(worst)) return null;
      const { rateControl } = recipe.encode;
      const setRate = rateControl === 'constant-bitrate' || rateControl === 'variable-bitrate';
      if (worst === whole) return findingTexts.poorPicture(likeness, whole, setRate);
      return { ...findingTexts.worstSecond(likeness, whole, worst, setRate), atUs: likeness.worstSecond * 1e6 };
    },
  },
  {
    id: 'clipped',
    tone: 'look',
    station: null,
    check: ({ take, summary }) =>
      summary.lanePeakDbfs.flatMap((peak, i) =>
        peak !== null && peak > clippingDbfs
          ? { ...findingTexts.clipped(take.recipe.lanes[i]?.name ?? `Lane ${i + 1}`, peak), id: `clipped-${i}` }
          : [],
      ),
  },
  {
    id: 'sound-away',
    tone: 'loss',
    station: null,
    check: ({ take }) =>
      take.sounds.flatMap((report) =>
        report.silenceS >= noticedSilenceS ? { ...findingTexts.soundAway(report), id: `sound-away-${report.id}` } : [],
      ),
  },
  {
    id: 'asleep',
    tone: 'loss',
    station: null,
    check: ({ take: { cuts } }) =>
      cuts
        .filter(({ why }) => why === 'asleep')
        .map(({ atUs, leftOutUs }, i) => ({ ...findingTexts.asleep(leftOutUs), id: `asleep-${i}`, atUs })),
  },
  {
    id: 'camera-away',
    tone: 'loss',
    station: null,
    check: ({ take: { camera } }) =>
      camera && (camera.awayS > 0 || camera.pictures === 0) ? [findingTexts.cameraAway(camera)] : [],
  },
  {
    id: 'silent-lane',
    tone: 'look',
    station: null,
    check: ({ take, summary }) =>
      silentLanes(take, summary).map((name, i) => ({ ...findingTexts.silentLane(name), id: `silent-lane-${i}` })),
  },
  {
    id: 'noisy',
    tone: 'look',
    station: null,
    check: ({ take }) =>
      take.sounds.flatMap((report) =>
        roleOf(report.id) === 'voice' && report.floorDbfs !== null && report.floorDbfs > noisyDbfs
          ? { ...findingTexts.noisy(report.name, report.floorDbfs), id: `noisy-${report.id}` }
          : [],
      ),
  },
  {
    id: 'disturbed',
    tone: 'look',
    station: null,
    check: ({ summary }) =>
      summary.disturbed && summary.processor ? findingTexts.disturbed(summary.processor.othersShare) : null,
  },
  {
    id: 'unsafe',
    tone: 'look',
    station: 'pack',
    check: (look) => (!survives(look) && look.take.state === 'closed' ? findingTexts.unsafe() : null),
  },
];

function isPoor(word: QualityWord): boolean {
  return word === 'soft' || word === 'blocky';
}

const tones = ['loss', 'look', 'note'] as const;

/** What stands out in a take, losses first, each with figures and what to change. */
export function takeFindings(take: Input, runs: readonly LossRun[]): Finding[] {
  const { summary } = take;
  if (!summary) return [];
  const look: Look = {
    take,
    summary,
    fps: framesPerSecond(take.recipe.rate),
    count: (...causes) => causes.reduce((sum, cause) => sum + (summary.causes[cause] ?? 0), 0),
    firstOf: (...causes) => runs.find((run) => causes.includes(run.cause as Cause))?.atUs ?? null,
    ofDue: (frames) =>
      `${plural(frames, 'frame')} of ${formatCount(summary.due)} (${formatPercent(frames / summary.due)})`,
  };
  const found = rules.flatMap(({ id, tone, station, check }) => {
    const one = check(look);
    const all: readonly Found[] = one === null ? [] : Array.isArray(one) ? one : [one as Found];
    return all.map(({ atUs = null, ...words }): Finding => ({ id, tone, station, atUs, ...words }));
  });
  return found.toSorted((a, b) => tones.indexOf(a.tone) - tones.indexOf(b.tone));
}
