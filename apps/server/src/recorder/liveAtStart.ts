import { causes, endedStates, fates, stationNames, type LiveTake, type Take, type TakeState } from '@mellow/model';

/** What is shown of a take before the recorder has said anything. */
export function liveAtStart(take: Take, state: TakeState = take.state): LiveTake {
  const none = <T extends string>(names: readonly T[]) =>
    Object.fromEntries(names.map((name) => [name, 0])) as Record<T, number>;
  const noLoad = { meanMs: null, busiestMs: null };
  return {
    takeId: take.id,
    setupId: take.setupId,
    number: take.number,
    state,
    lengthS: take.lengthS,
    elapsedUs: 0,
    baselineLeftS: 0,
    due: 0,
    fates: none(fates),
    causes: none(causes),
    lastMinute: [],
    bytesWritten: 0,
    durableBytes: 0,
    bytesPerSecond: 0,
    bytesQueued: 0,
    writtenUs: 0,
    unsettled: 0,
    troubles: [],
    gameFps: null,
    gameSlowestMs: null,
    loads: Object.fromEntries(stationNames.map((name) => [name, noLoad])) as LiveTake['loads'],
    lanePeakDbfs: [],
    recorderCores: null,
    laneLufs: [],
    sounds: [],
    camera: null,
    held: null,
    pausedS: null,
    cuts: [],
    parts: 1,
    processor: null,
    roomBytes: null,
  };
}

/** The recorder's state in the word that every page shows. */
export const recorderWord = (state: TakeState): 'idle' | 'armed' | 'rolling' | 'closing' => {
  if (state === 'rolling') return 'rolling';
  if (state === 'preparing' || state === 'baseline') return 'armed';
  return endedStates.includes(state) ? 'idle' : 'closing';
};
