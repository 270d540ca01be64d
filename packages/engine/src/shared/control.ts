/** Flags and counters that all threads of one take share; each has one writer unless it is a stop flag. */
const intNames = [
  'stop',
  'stopReason',
  'gameMode',
  /** Counts what the game is told, and what it has taken in. */
  'gameCommand',
  'gameHeard',
  /** Frames that helpers were asked to work on, and what they have done: helpers x frames. */
  'helperFrames',
  'helpersDone',
  'pickerDone',
  'sizeDone',
  'encodeDone',
  'packDone',
  /** The container was closed well. */
  'containerClosed',
  'driveDone',
  /** Steps of writing a clip, and how often what is held missed packets. */
  'keptSteps',
  'heldGaps',
  /** Who holds the last minutes needs the encoder’s parameters: it has just begun. */
  'heldWanted',
  /** The thread that brings the practice game’s sounds, or the ones from outside, is gone for now. */
  'soundLost',
  'hearLost',
  'failed',
  'dueIssued',
  'latestSlot',
  'presented',
  'passedOver',
  'notReached',
  /** Pictures of a sample that could not be decoded in time. */
  'sampleLeftOut',
  'driveError',
  /** The drive's room ends: a new file elsewhere is wanted. */
  'partWanted',
  /** Files begun after the first. */
  'partsTurned',
  'settledRows',
  'ready',
  /** Nothing is to be recorded for now. */
  'pauseWanted',
  'encoded',
  /** Frames inside the encoder now. */
  'encoderHolds',
  'sized',
  /** Of a window that is recorded: a value of `windowStates`, its size, the process it belongs to (0: not known). */
  'windowState',
  'windowWidth',
  'windowHeight',
  'windowProcess',
  /** Slot of the camera's newest picture plus one, pictures it brought, whether it is away now, how often it was. */
  'latestCamera',
  'cameraPictures',
  'cameraAway',
  'cameraAwayTimes',
  /** The last grab of the screen failed. */
  'grabFailed',
] as const;
const floatNames = [
  'gameStartUs',
  'dueZeroUs',
  'gameStartSlot',
  /** Work of each helper in the frame that is being made. */
  'helperWorkUs',
  'handedBytes',
  'drivenBytes',
  'durableBytes',
  'drivePosition',
  /** Up to where in the file every picture is with the drive. */
  'writtenUs',
  'lastWriteUs',
  'driveLatencyUs',
  /** Bytes the file can still grow by; negative where it is not known. */
  'roomBytes',
  'endUs',
  /** Bytes copied from a file whose name is gone. */
  'savedBytes',
  'windowId',
  /** The last minutes that are held. */
  'heldFrames',
  'heldBytes',
  /** How long the camera was away together, and since when it is. */
  'cameraAwayUs',
  'cameraAwaySinceUs',
  /** When the last picture of the screen was grabbed, changed or not. */
  'lastGrabUs',
] as const;
export type ControlFlag = (typeof intNames)[number];
export type ControlFigure = (typeof floatNames)[number];

export interface ControlMemory {
  ints: SharedArrayBuffer;
  floats: SharedArrayBuffer;
}

export const createControlMemory = (): ControlMemory => ({
  ints: new SharedArrayBuffer(intNames.length * 4),
  floats: new SharedArrayBuffer(floatNames.length * 8),
});

/** Why the recorder stops by itself; position = value of `stopReason`. */
export const stopReasons = [
  'none',
  'length',
  'stopped',
  'server-gone',
  'drive-full',
  'file-limit',
  'drive-gone',
  'drive-error',
  'source-gone',
  'error',
] as const;
export type StopReason = (typeof stopReasons)[number];

export interface Control {
  get(flag: ControlFlag): number;
  set(flag: ControlFlag, value: number): void;
  add(flag: ControlFlag, by: number): void;
  /** Wakes who waits for the flag, after `add`. */
  wake(flag: ControlFlag): void;
  /** Sleeps until the flag changes from `value`, or the time is over. */
  wait(flag: ControlFlag, value: number, timeoutUs: number): void;
  exchange(flag: ControlFlag, value: number): number;
  figure(name: ControlFigure): number;
  setFigure(name: ControlFigure, value: number): void;
  /** Asks everyone to come to an end; the first reason stays. */
  requestStop(reason: StopReason): void;
  reason(): StopReason;
}

export function openControl(memory: ControlMemory): Control {
  const ints = new Int32Array(memory.ints);
  const floats = new Float64Array(memory.floats);
  const at = new Map<string, number>(intNames.map((name, i) => [name, i]));
  const figureAt = new Map<string, number>(floatNames.map((name, i) => [name, i]));
  const index = (flag: ControlFlag) => at.get(flag) ?? 0;
  const set = (flag: ControlFlag, value: number) => {
    Atomics.store(ints, index(flag), value);
    Atomics.notify(ints, index(flag));
  };
  return {
    get: (flag) => Atomics.load(ints, index(flag)),
    set,
    add: (flag, by) => void Atomics.add(ints, index(flag), by),
    wake: (flag) => void Atomics.notify(ints, index(flag)),
    wait: (flag, value, timeoutUs) => void (timeoutUs > 0 && Atomics.wait(ints, index(flag), value, timeoutUs / 1000)),
    exchange: (flag, value) => Atomics.exchange(ints, index(flag), value),
    figure: (name) => floats[figureAt.get(name) ?? 0] ?? 0,
    setFigure: (name, value) => void (floats[figureAt.get(name) ?? 0] = value),
    requestStop: (reason) => {
      Atomics.compareExchange(ints, index('stopReason'), 0, stopReasons.indexOf(reason));
      set('stop', 1);
    },
    reason: () => stopReasons[Atomics.load(ints, index('stopReason'))] ?? 'none',
  };
}
