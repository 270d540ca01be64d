/** A process that works through frames and is let run in turns with another one. */
export interface Contender {
  pid: number;
  /** Frames it has done. */
  done(): number;
  /** Wall time of all its frames, what it was stopped included, microseconds. */
  whole: Promise<number>;
}

const turnMs = 1000;
/** Both are well under way before they take turns, and each does its last frames in one go: it is measured by its own clock. */
const aloneFrames = 300;
const lookMs = 5;
const nowMs = (): number => Number(process.hrtime.bigint()) / 1e6;
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Lets two processes do the same frames in turns of a second, so that both meet the same minutes of a machine whose speed goes
 * up and down, and neither meets the other.
 * @returns time each has run for all its frames, microseconds
 */
export async function inTurns(
  frames: number,
  begin: readonly [() => Promise<Contender>, () => Promise<Contender>],
): Promise<[number, number]> {
  const stoppedMs = [0, 0];
  const sides: Contender[] = [];
  const sinceMs = [0, 0];
  const stop = (i: number): void => {
    process.kill(sides[i]?.pid ?? 0, 'SIGSTOP');
    sinceMs[i] = nowMs();
  };
  const go = (i: number): void => {
    stoppedMs[i] = (stoppedMs[i] ?? 0) + nowMs() - (sinceMs[i] ?? 0);
    process.kill(sides[i]?.pid ?? 0, 'SIGCONT');
  };
  const reaches = async (i: number, count: number): Promise<void> => {
    while ((sides[i]?.done() ?? 0) < count) await pause(lookMs);
  };
  for (const i of [0, 1] as const) {
    sides[i] = await begin[i]();
    await reaches(i, aloneFrames);
    if (i === 0) stop(0);
  }
  let running: 0 | 1 = 1;
  const nearEnd = (): boolean => sides.some((side) => side.done() > frames - aloneFrames - frames / 20);
  while (!nearEnd()) {
    await pause(turnMs);
    stop(running);
    running = running ? 0 : 1;
    go(running);
  }
  const first = await sides[running]?.whole;
  const other = running ? 0 : 1;
  go(other);
  const second = await sides[other]?.whole;
  const times = [0, 0];
  times[running] = (first ?? 0) - (stoppedMs[running] ?? 0) * 1000;
  times[other] = (second ?? 0) - (stoppedMs[other] ?? 0) * 1000;
  return [times[0] ?? 0, times[1] ?? 0];
}
