import type { FrameRate } from '@mellow/model';

/** Frames that may wait for the scaler and for the encoder, the one being served included; the recorder has the same. */
export const sizeQueueFrames = 2;
export const encodeQueueFrames = 8;

/** The game begins so long before due 0, so that the first due finds a frame. */
export const gameStartUs = -400_000;

/** Work whose mean, spread and correlation from frame to frame are known. */
export interface Work {
  meanUs: number;
  /** Standard deviation / mean. */
  cv: number;
  /** Correlation with the frame before, 0 to 1. */
  phi: number;
}

export type SceneKind = 'calm' | 'busy' | 'loading';

/** A run of the game in one manner, with what it does to the work of its frames. */
export interface Scene {
  kind: SceneKind;
  fromUs: number;
  toUs: number;
  /** Work of the game, and of the encoder, against their means. */
  gameFactor: number;
  encodeFactor: number;
}

/** Everything that the simulation of a path needs; plain data, times in microseconds. */
export interface PathParameters {
  seed: number;
  rate: FrameRate;
  dueFrames: number;
  scenes: readonly Scene[];
  /** Periods in which the game presents nothing. */
  stalls: readonly (readonly [number, number])[];
  cores: number;
  /** Cores that other programs keep busy. */
  othersCores: number;
  game: {
    processor: Work;
    /** Work of helper threads beside the main one, a frame, and the cores they can use; 0 work: none. */
    helpers: { meanUs: number; parallelism: number };
    /** Mean work on the graphics engine; 0 for a game that draws on the processor. */
    graphicsUs: number;
    /** Factors on that work while recording, for what is shared beside turns on the processor. */
    slowedBy: { processor: number; graphics: number };
    /** Shortest time between two presented frames; 0: no cap. */
    capUs: number;
    /** Spread of the moment of presenting (standard deviation). */
    jitterUs: number;
    /** Frames that may be begun before the last one is presented. */
    framesAhead: number;
    weight: number;
  };
  capture: { grabUs: number; wakeMedianUs: number; wakeSigma: number };
  /** Null where the game's pictures go on as they are. */
  size: Work | null;
  encode: {
    /** Work of one core (software), or time of the block (hardware); `each` gives it frame by frame instead of drawing it. */
    work: Work & { each?: Float64Array };
    /** Cores it can use; null: it is a block of its own, first come first served. */
    parallelism: number | null;
    /** Weight on the processor against a game's main thread: its threads that want to run at once. */
    weight: number;
    /** Longest that a thread of a game waits for a turn among them when it wakes; 0: none. */
    turnUs: number;
    /** Frames it holds back before one leaves. */
    heldFrames: number;
    /** Work of a repeated picture against a new one. */
    repeatShare: number;
    queueFrames: number;
  };
  packUs: number;
  drive: {
    bytesPerSecond: number;
    /** 1 + kappa x the game's share of reading on the same drive. */
    contention: number;
    stallsPerSecond: number;
    stallMedianUs: number;
    stallSigma: number;
    waitingLimitBytes: number;
    /** Bytes that wait already when the run begins: a path that has been overloaded for long. */
    waitingFromStartBytes: number;
  };
  /** Bytes of each due's picture where known; otherwise drawn. */
  bytes: { each: Int32Array } | { mean: number; cv: number; keyDistance: number; keyFactor: number };
  soundBytesPerSecond: number;
}

/** The scene at a time; the last one goes on. */
export function sceneAt(scenes: readonly Scene[], timeUs: number): Scene | null {
  let found: Scene | null = null;
  for (const scene of scenes) {
    found = scene;
    if (timeUs < scene.toUs) break;
  }
  return found;
}
