import type { RolledKind, Take } from '@mellow/model';
import { problem } from '../errors/problem';
import { createKeeping } from '../hindsight/keeping';
import { createWatchdog } from '../hindsight/watchdog';
import { newTakeId, prepareTrial } from '../orders/orderTrial';
import { createAfterTake } from './afterTake';
import { currentTake } from './currentTake';
import { recoverAll } from './leftTakes';
import { act } from './lifeActs';
import { liveAtStart } from './liveAtStart';
import { makeRoom } from './makeRoom';
import type { RecorderContext } from './recorderContext';
import { createRecorderProcess } from './recorderProcess';
import type { RecorderService } from './recorderService';
import { heardNow, type RecorderShell } from './recorderShell';
import { isWatched, onEvent, onGone, onSilent } from './recorderSigns';
import { recoverTake } from './recoverTake';
import { refusalProblem } from './refusals';
import { idleLife, stepLife, type LifeEvent } from './takeLife';
import { createUnfinishedTakes } from './unfinishedTakes';
import { createWhileRolling } from './whileRolling';

/** At the end of the application a closing take gets so long; then its recorder goes on alone. */
const leavingPatienceMs = 25_000;
const ignored = (): void => {};
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** The machine of takeLife.ts at rest, and all that tells it something. */
function openShell(context: RecorderContext): RecorderShell {
  const { takes, live, log } = context;
  const after = createAfterTake(context);
  const shell: RecorderShell = {
    ...{ context, after, life: idleLife, current: null, heardAtMs: 0, takesMade: 0 },
    endListeners: new Set(),
    keeping: createKeeping(),
    unfinished: createUnfinishedTakes({
      ...{ takes, live, log, after },
      idle: () => shell.life.phase === 'idle' && !shell.life.leaving,
      recover: (take, before) => recoverTake(shell, take, before),
    }),
    recorder: createRecorderProcess({
      onEvent: (event) => onEvent(shell, event),
      onGone: (how) => onGone(shell, how),
    }),
    watchdog: createWatchdog(
      context.hangMs,
      () => isWatched(shell),
      () => onSilent(shell),
    ),
    hear: (event) => hear(shell, event),
  };
  return shell;
}

function hear(shell: RecorderShell, event: LifeEvent): void {
  const step = stepLife(shell.life, event);
  if (step.refusal) throw refusalProblem(step.refusal, shell.current?.take ?? null, shell.context.jobs.list());
  shell.life = step.state;
  for (const effect of step.effects) act(shell, effect);
}

async function startTrial(
  shell: RecorderShell,
  asked: { setupId: string; lengthS: number | null; kind: RolledKind; driveId: string | null },
): Promise<Take> {
  const { context } = shell;
  const { jobs, live } = context;
  const id = newTakeId();
  await makeRoom({ jobs, life: () => shell.life, ended: () => shell.current?.whenEnded ?? null });
  shell.hear({ type: 'trial-asked', takeId: id });
  try {
    await context.hindsight.rest();
    const prepared = await prepareTrial(context, id, asked);
    shell.current = currentTake(live, { take: prepared.take, prepared, how: 'error', text: null });
    live.setTake('armed', liveAtStart(prepared.take));
    if (prepared.notHeld) live.notify('loss', 'Nothing is held beside this take', prepared.notHeld, id);
    shell.hear({ type: 'prepared' });
    return prepared.take;
  } catch (error) {
    shell.hear({ type: 'prepare-failed' });
    context.hindsight.resume();
    throw error;
  }
}

async function beside<T>(shell: RecorderShell, task: () => Promise<T>): Promise<T> {
  shell.hear({ type: 'job-asked' });
  try {
    return await task();
  } finally {
    shell.hear({ type: 'job-ended' });
  }
}

/** Waits for the take that is made. @returns whether another may follow: the application does not end */
async function free(shell: RecorderShell): Promise<boolean> {
  while (shell.current && !shell.life.leaving) await shell.current.whenEnded;
  return !shell.life.leaving;
}

async function recoverOrphans(shell: RecorderShell): Promise<{ whole: Promise<void> }> {
  const { log, takes } = shell.context;
  const left = await takes.leftOpen();
  shell.after.dropKept((await takes.list()).filter((take) => !left.some((open) => open.id === take.id)));
  const { claimed, whole } = recoverAll(
    { log, takes, free: () => free(shell), recover: (take, begun) => recoverTake(shell, take, null, begun) },
    left,
  );
  await claimed;
  return { whole: whole.then(shell.recorder.ready).then(ignored, ignored) };
}

async function shutDown(shell: RecorderShell): Promise<void> {
  shell.hear({ type: 'quit-asked' });
  if (shell.current) await Promise.race([shell.current.whenEnded, pause(leavingPatienceMs)]);
  shell.context.jobs.cancelAll();
  // A recorder that still closes a take goes on alone; an idle one that does not hear is ended.
  await shell.recorder.leave(shell.current !== null);
  shell.watchdog.stop();
  shell.unfinished.close();
}

/** Runs the state machine of takeLife.ts: hears events, does what it answers, and tells it what came of that. */
export function createRecorderService(context: RecorderContext): RecorderService {
  const shell = openShell(context);
  const { takes } = context;
  return {
    startTrial: (setupId, lengthS, kind = 'trial', driveId) =>
      startTrial(shell, { setupId, lengthS, kind, driveId: driveId ?? null }),
    onEnded: (listener) => void shell.endListeners.add(listener),
    stop: () => shell.hear({ type: 'stop-asked' }),
    ...createWhileRolling({
      rolling: () => (shell.life.phase === 'rolling' ? shell.current : null),
      heard: () => heardNow(shell),
      recorder: shell.recorder.now,
      keeping: shell.keeping,
    }),
    beside: (task) => beside(shell, task),
    rewrap: (takeId, into) => beside(shell, () => shell.after.rewrap(takeId, into)),
    async lookAgain(takeId) {
      const take = await takes.get(takeId);
      if (take.state !== 'waiting')
        throw problem('recorder-idle', `Trial ${take.number} waits for nothing; there is nothing to look for again.`);
      await recoverTake(shell, take);
      return takes.get(takeId);
    },
    recoverOrphans: () => recoverOrphans(shell),
    enginePid: () => shell.recorder.now()?.pid ?? null,
    shutDown: () => shutDown(shell),
  };
}
