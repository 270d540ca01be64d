import {
  briefSchema,
  cameraSchema,
  type BriefInput,
  type Cause,
  type Fate,
  type GameRun,
  type PlayCost,
  type Source,
  type Take,
} from '@mellow/model';
import { withEncoder } from '../codec';
import { plainPracticeGame } from '../recipe';
import { testRecipe } from './testTake.test-support';

type Row = Fate | [Fate, Cause];
type Mark = NonNullable<Take['verdict']>['mark'];

/** A made ledger with what came of its file, and what an expert would say of it. */
export interface Made {
  name: string;
  rows: readonly Row[];
  change?: Partial<Take>;
  lanePeakDbfs?: (number | null)[];
  mark: Mark;
  /** The first sentence, without thin spaces. */
  says: RegExp;
  /** What it must not say. */
  never?: RegExp;
}

export const fill = (count: number, row: Row): Row[] => Array<Row>(count).fill(row);
export const whole = fill(600, 'new');
export const encodeMiss: Row = ['encode-miss', 'queue-full'];
export const captureMiss: Row = ['capture-miss', 'picker-late'];
export const writeMiss: Row = ['write-miss', 'drive-stalled'];
/** `lost` rows that each come after `between` new ones. */
export const every = (between: number, lost: readonly Row[], times: number): Row[] =>
  Array.from({ length: times }, () => [...fill(between, 'new'), ...lost]).flat();

const run = (meanFps: number, onePercentLowFps: number | null = null): GameRun => ({
  seconds: 6,
  frames: Math.round(meanFps * 6),
  meanFps,
  onePercentLowFps,
  slowestMs: [],
  blocks: [],
  turnBlocks: [],
});
/** A play cost with half the width of its 90 % interval. */
export const cost = (without: number, recorded: number, half = 0.01, low: [number, number] | null = null): PlayCost => {
  const share = 1 - recorded / without;
  return {
    without: run(without, low?.[0]),
    with: run(recorded, low?.[1]),
    pairs: 2,
    interval: { low: share - half, high: share + half },
  };
};
const small = cost(120, 118);
export const likeness = (ssim: number, worstSecondSsim = ssim, exact = false): Take['likeness'] => ({
  pictures: 40,
  ssim,
  worstSecondSsim,
  worstSecond: 3,
  exact,
});
/** Everything is known, and good. */
export const good: Partial<Take> = { playCost: small, likeness: likeness(0.99, 0.98) };
export const brief = (change: Partial<BriefInput>): Take['brief'] =>
  briefSchema.parse({ purpose: 'long-play', sessionMinutes: 60, ...change });
export const pictureFirst = brief({ matters: ['picture', 'safety', 'game', 'small-files'] });
export const calm: Take['game'] = { ...plainPracticeGame, facts: { ...plainPracticeGame.facts, motion: 'calm' } };
export const window: Extract<Source, { kind: 'window' }> = {
  ...{ kind: 'window', windowId: 7, title: 'Oil Street', whenClosed: 'end', leftPx: 0, topPx: 0, pointer: true },
  ...{ widthPx: 1280, heightPx: 720 },
};
export const lossless = {
  ...withEncoder(testRecipe, 'utvideo-software'),
  encode: { ...withEncoder(testRecipe, 'utvideo-software').encode, rateControl: 'lossless' as const },
};

export const sound = (change: Partial<Take['sounds'][number]>): Take['sounds'] => [
  {
    ...{ id: 'voice', name: 'Microphone', rateHz: 48_000, channels: 1 },
    ...{ driftPpm: null, away: 0, silenceS: 0, floorDbfs: null },
    ...change,
  },
];
export const camera = (change: Partial<NonNullable<Take['camera']>>): Take['camera'] => ({
  ...{ name: 'Camera', where: 'over', standIn: false, pictures: 300, away: 0, awayS: 0 },
  ...change,
});
export const withCamera = { ...testRecipe, camera: cameraSchema.parse({ from: { kind: 'stand-in' } }) };
