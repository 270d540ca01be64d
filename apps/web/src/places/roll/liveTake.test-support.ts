import { causes, fates, stationNames, type LiveTake } from '@mellow/model';

const none = <T extends string>(names: readonly T[]) =>
  Object.fromEntries(names.map((name) => [name, 0])) as Record<T, number>;
/** A take that has rolled for 42 minutes. */
export const testLiveTake: LiveTake = {
  takeId: 't',
  setupId: 's',
  number: 1,
  state: 'rolling',
  lengthS: null,
  elapsedUs: 2538e6,
  baselineLeftS: 0,
  due: 152_280,
  fates: { ...none(fates), 'capture-miss': 9, 'encode-miss': 5, repeat: 162 },
  causes: none(causes),
  lastMinute: [
    [58, 2, 0, 0, 0],
    [12, 0, 0, 0, 0],
  ],
  bytesWritten: 0,
  durableBytes: 0,
  bytesPerSecond: 0,
  bytesQueued: 0,
  writtenUs: 0,
  unsettled: 0,
  troubles: [],
  gameFps: 119,
  gameSlowestMs: 17,
  loads: Object.fromEntries(stationNames.map((name) => [name, { meanMs: null, busiestMs: null }])) as LiveTake['loads'],
  lanePeakDbfs: [],
  laneLufs: [],
  camera: null,
  held: null,
  pausedS: null,
  cuts: [],
  parts: 1,
  processor: null,
  roomBytes: null,
  sounds: [],
  recorderCores: null,
};
