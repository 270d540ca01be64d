import type { SecondRow, Take } from '@mellow/model';
import { summarise, type LedgerColumns } from '../ledger';
import { plainPracticeGame, startRecipe } from '../recipe';

export const testRecipe = startRecipe({ purpose: 'long-play', sessionMinutes: 90 }, plainPracticeGame, 'footage');

/** A second of a take for tests; `encodeMs` is the load of Encode. */
export function testSecond(encodeMs: number, othersCores = 0.02): SecondRow {
  const load = (ms: number) => ({ meanMs: ms, busiestMs: ms });
  return {
    second: 0,
    due: 60,
    load: { game: load(8), capture: load(0.1), size: load(1), encode: load(encodeMs), pack: load(1), drive: load(5) },
    processor: { game: 0.3, recorder: 0.5, others: othersCores, pressureShare: null },
    encodeWaitingS: 0.3,
    bytesWritten: 1e6,
    bytesQueued: 1e5,
    driveLatencyMs: 4,
    lanePeakDbfs: [-9, -13, -20],
    game: { frames: 120, meanMs: 8.3, slowestMs: 12 },
  };
}

/** A finished trial for tests, from its ledger. */
export function testTake(
  columns: LedgerColumns,
  change: Partial<Take> = {},
  seconds: SecondRow[] = [testSecond(4)],
): Take {
  const recipe = change.recipe ?? testRecipe;
  const summary = summarise(columns, {
    rate: recipe.rate,
    seconds,
    cores: 2,
    tailFrames: change.tailFrames ?? 0,
    presented: null,
    passedOver: null,
    notReached: null,
  });
  const endUs = (columns.length * 1e6 * recipe.rate.den) / recipe.rate.num;
  return {
    id: 't',
    setupId: 's',
    number: 1,
    kind: 'trial',
    state: 'closed',
    end: 'length',
    endText: null,
    recipeVersion: 1,
    recipe,
    game: plainPracticeGame,
    source: { kind: 'practice' },
    machine: { name: 'this PC', cores: 2, processor: 'p', memoryBytes: 1, system: 's', origin: 'measured' },
    demo: false,
    clock: 'real',
    lengthS: endUs / 1e6,
    createdAt: '2026-11-25T00:00:00Z',
    driveId: 'footage',
    fileName: 'x.mkv',
    filePath: '/x.mkv',
    facts: {
      bytes: 3e6,
      formatName: 'matroska,webm',
      durationUs: endUs,
      picture: {
        codec: 'h264',
        profile: 'High',
        level: 32,
        widthPx: 1280,
        heightPx: 720,
        pixelFormat: 'yuv420p',
        range: 'tv',
        matrix: 'bt709',
        primaries: 'bt709',
        transfer: 'bt709',
        rate: recipe.rate,
        packets: summary.filed,
        keys: Math.ceil(summary.filed / recipe.encode.keyDistanceFrames),
        pictureBytes: 2.5e6,
        firstUs: 0,
        endUs,
      },
      lanes: recipe.lanes.map((lane) => ({
        codec: lane.codec === 'pcm' ? 'pcm_s16le' : lane.codec,
        name: lane.name,
        sampleRateHz: 48_000,
        channels: 2,
        bytes: 1e5,
        durationUs: endUs,
        packets: 0,
      })),
    },
    summary,
    playCost: null,
    likeness: null,
    unpaced: null,
    brief: null,
    verdict: null,
    prediction: null,
    files: [],
    stripes: null,
    marks: [],
    discarded: null,
    cuts: [],
    sampleLeftOut: 0,
    sounds: [],
    camera: null,
    fileOffsetUs: 0,
    tailFrames: 0,
    ...change,
  };
}
