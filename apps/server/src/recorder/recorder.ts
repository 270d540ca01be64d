import { errorText } from '@mellow/core';
import { clearAround } from './clearAround';
import {
  endedStates,
  type EngineEvent,
  type LiveTake,
  type ReadBackResult,
  type RolledKind,
  type Take,
  type TakeClosing,
} from '@mellow/model';
import { problem } from '../http/problem';
import { makeSimulatedTake } from '../services/simulatedTake';
import { createAfterTake, storedClosing, type AfterTake } from './afterTake';
import { liveAtStart, recorderWord } from './liveAtStart';
import { currentTake, cutOff, type CurrentTake as Current } from './currentTake';
import { dueHeard, type Heard } from './dueHeard';
import { recoverAll, watchOrphan } from './leftTakes';
import { closesAlone } from './orphanSigns';
import { newTakeId, prepareTrial } from './orderTrial';
import type { RecorderContext } from './recorderContext';
import { createKeeping } from './keeping';
import { makeRoom } from './makeRoom';
import { createRecorderProcess } from './recorderProcess';
import type { RecorderService } from './recorderService';
import { refusalProblem } from './refusals';
import { idleLife, stepLife, type LifeEffect, type LifeEvent, type LifeState } from './takeLife';
import { createWhileRolling } from './whileRolling';
import { createWatchdog } from './watchdog';
import { createUnfinishedTakes } from './unfinishedTakes';

/** At the end of the application a closing take gets so long; then its recorder goes on alone. */
const leavingPatienceMs = 25_000;
const neverBegan = 'The application ended before it could begin.';
const ignored = (): void => {};
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** Runs the state machine of takeLife.ts: hears events, does what it answers, and tells it what came of that. */
export function createRecorderService(context: RecorderContext): RecorderService {
  const { log, live, takes, jobs } = context;
  const after: AfterTake = createAfterTake(context);
  let state: LifeState = idleLife;
  let current: Current | null = null;
  let heardAtMs = 0;
  const keeping = createKeeping();
  const unfinished = createUnfinishedTakes({
    ...{ takes, live, log, after },
    idle: () => state.phase === 'idle' && !state.leaving,
    recover: (take, before) => recover(take, before),
  });
  const recorder = createRecorderProcess({ onEvent, onGone: onRecorderGone });
  const folderNow = (): string | undefined => (current ? takes.folder(current.take.id) : undefined);

  const watchdog = createWatchdog(
    context.hangMs,
    () => recorder.now() !== null && ['armed', 'rolling', 'closing'].includes(state.phase),
    () => {
      const seconds = (context.hangMs / 1000).toFixed(0);
      log.add('error', `The recorder gave no sign for ${seconds} s and was ended.`, folderNow());
      if (current) [current.how, current.text] = ['engine-hung', 'The recorder stopped answering and was ended.'];
      hear({ type: 'recorder-silent' });
    },
  );

  /** Gives an event to the machine and does what it says. */
  function hear(event: LifeEvent): void {
    const step = stepLife(state, event);
    if (step.refusal) throw refusalProblem(step.refusal, current?.take ?? null, jobs.list());
    state = step.state;
    for (const effect of step.effects) act(effect);
  }

  function act(effect: LifeEffect): void {
    switch (effect) {
      case 'prepare':
      case 'watch-orphan':
        return; // Begun by whoever asked, who waits for it.
      case 'roll':
        return roll();
      case 'stop-recorder':
        return recorder.now()?.stop();
      case 'kill-recorder':
        return recorder.now()?.kill();
      case 'read-back':
        if (leaveForLater()) return;
        return work((now) => after.readBack(now.take, now.reading ?? undefined));
      case 'rescue':
        if (leaveForLater()) return;
        return work(async (now) => {
          const { take, how, text } = now;
          if (take.machine.origin === 'simulated') return after.dropSimulated(take, text);
          const due = now.due ?? dueHeard(take, heard());
          now.due = due;
          // A full drive needs the room that was kept back.
          await clearAround(context, take);
          return after.rescue(take, how, text, due);
        });
      case 'finish':
        return work(async ({ take }) => {
          await after.finish(take);
          if (take.kind === 'sample') await context.samples.playFrom(take.id);
          return true;
        });
      case 'cancel-work':
        return jobs.cancelAll();
      case 'store-failure':
        return; // Stored by the work that failed, before it told.
      case 'give-up':
        if (current) void keep(current.take.id, { state: 'failed', end: 'stopped', endText: neverBegan });
        return;
      case 'end':
        return end();
    }
  }

  /** What is played goes on first: a full take that was cut off is looked after when nothing rolls. @returns whether it is left */
  function leaveForLater(): boolean {
    const now = current;
    if (!now?.prepared || now.take.kind !== 'full' || state.leaving || !cutOff(now)) return false;
    now.due = dueHeard(now.take, heard());
    const endText = `${now.text ?? ''} What was recorded of it is looked after when nothing rolls.`.trim();
    void unfinished.leave(now, endText).then(() => {
      if (current === now) hear({ type: 'work-failed' });
    });
    return true;
  }

  /** Work on the take that nobody else waits for; its end is always told. */
  function work(task: (now: Current) => Promise<boolean>): void {
    const now = current;
    if (!now) return;
    live.setTake('closing', live.state().take ?? liveAtStart(now.take, 'closing'));
    void (async () => {
      try {
        const readable = await task(now);
        if (current === now) hear({ type: 'work-done', readable });
      } catch (error) {
        if (current !== now) return;
        log.add('error', `Trial ${now.take.number}: ${errorText(error)}`, takes.folder(now.take.id));
        if (state.phase !== 'finishing') await unfinished.failed(now, error);
        if (current === now) hear({ type: 'work-failed' });
      }
    })();
  }

  /** Stores a change of a take; a database that cannot be written is told, and ends nothing. */
  async function keep(takeId: string, change: Partial<Take>): Promise<void> {
    try {
      await takes.update(takeId, change);
    } catch (error) {
      log.add('error', `What became of the take could not be stored: ${errorText(error)}`);
    }
  }

  /** What the recorder last told of the take that is made. */
  function heard(): Heard | null {
    const told = live.state().take;
    return told && heardAtMs ? { live: told, sinceS: (performance.now() - heardAtMs) / 1000 } : null;
  }
  let takesMade = 0;
  const endListeners = new Set<Parameters<RecorderService['onEnded']>[0]>();

  const endOf = ({ end, endText, filePath }: TakeClosing) => ({ end, endText, filePath });

  function end(): void {
    const now = current;
    if (now) void clearAround(context, now.take);
    current = null;
    heardAtMs = 0;
    live.setTake('idle', null);
    live.dataChanged();
    context.hindsight.resume();
    now?.ended();
    if (now?.prepared && !state.leaving) {
      const ended = { takeId: now.take.id, byItself: cutOff(now), rolledUs: now.rolledUs };
      for (const tell of endListeners) unfinished.while(Promise.resolve(tell(ended)));
    }
    if (++takesMade % context.takesPerRecorder === 0) recorder.renew();
    if (!state.leaving) recorder.ready().catch(() => {});
  }

  function onRecorderGone(how: string): void {
    keeping.giveUp('The recorder that held it has ended.');
    const now = current;
    // It died before it had begun with the take, perhaps before it was asked: a fresh one begins it.
    if (now && state.phase === 'armed' && heardAtMs === 0 && !now.begunAgain) {
      now.begunAgain = true;
      log.add('warn', `The recorder ended before the take began (${how}); a fresh one begins it.`, folderNow());
      return roll();
    }
    if (now && ['armed', 'rolling', 'closing'].includes(state.phase)) {
      // It wrote down that the file is closed, and died before it could say so.
      const closing = now.prepared?.simulated ? null : storedClosing(takes.folder(now.take.id));
      if (closing?.closedWell) return void onClosed(now, closing, null);
      if (now.how !== 'engine-hung') [now.how, now.text] = ['engine-died', `The recorder died while rolling (${how}).`];
      now.diedRolling = state.phase === 'rolling' && !state.stopping;
      log.add('error', now.text ?? '', takes.folder(now.take.id));
    } else if (!state.leaving) {
      log.add('warn', `The recorder's process ended while idle (${how}); it is started again when needed.`);
    }
    hear({ type: 'recorder-gone' });
  }

  function roll(): void {
    const now = current;
    if (!now?.prepared) return;
    const { order, simulated, context: forecast, seed } = now.prepared;
    watchdog.sign();
    void recorder.ready().then(
      (client) => {
        watchdog.sign();
        if (state.stopping) queueMicrotask(client.stop);
        if (!simulated) return client.roll(order);
        makeSimulatedTake({ recorder: client, order, context: forecast, seed, jobs }).then(
          ({ closing, reading }) => onClosed(now, closing, reading),
          (error: unknown) => {
            if (current !== now) return;
            now.text = errorText(error);
            hear({ type: 'refused' });
          },
        );
      },
      (error: unknown) => {
        if (current !== now) return;
        [now.how, now.text] = ['error', errorText(error)];
        hear({ type: 'refused' });
      },
    );
  }

  function onEvent(event: EngineEvent): void {
    watchdog.sign();
    if (event.type === 'log') log.add(event.level, event.text, folderNow());
    keeping.hear(event);
    const now = current;
    if (!now) return;
    if (event.type === 'live' && event.live.takeId === now.take.id) onLive(now, event.live);
    else if (now.prepared?.simulated) return;
    else if (event.type === 'part')
      void after
        .adoptParts(event.takeId, [event.part])
        .catch((error: unknown) => log.add('error', errorText(error), folderNow()));
    else if (event.type === 'closed' && event.closing.takeId === now.take.id) void onClosed(now, event.closing, null);
    else if (event.type === 'refused' && event.takeId === now.take.id) {
      [now.how, now.text] = ['error', `The take could not begin or go on: ${event.text}`];
      hear({ type: 'refused' });
    }
  }

  function onLive(now: Current, told: Omit<LiveTake, 'setupId' | 'number'>): void {
    heardAtMs = performance.now();
    if (told.state === 'rolling') now.rolledUs = told.elapsedUs;
    if (told.state !== now.take.state && !endedStates.includes(now.take.state)) {
      now.take = { ...now.take, state: told.state };
      void keep(now.take.id, { state: told.state });
    }
    // Whatever dies afterwards, where it was paused stands with the take.
    if (told.cuts.length > now.take.cuts.length) {
      now.take = { ...now.take, cuts: told.cuts };
      void keep(now.take.id, { cuts: told.cuts });
    }
    live.setTake(recorderWord(told.state), { ...told, setupId: now.take.setupId, number: now.take.number });
    if (told.state === 'rolling') now.room(told);
    if (told.state === 'rolling' || told.state === 'closing') hear({ type: 'sign', of: told.state });
  }

  /** The container is closed: that is stored before anything else is done with it. */
  async function onClosed(now: Current, closing: TakeClosing, reading: ReadBackResult | null): Promise<void> {
    if (current !== now) return;
    [now.how, now.text, now.reading, now.closing] = [closing.end, closing.endText, reading, closing];
    if (closing.closedWell) {
      try {
        now.take = await after.storeClosed(now.take, closing);
      } catch (error) {
        log.add('error', `That the take is closed could not be stored: ${errorText(error)}`, takes.folder(now.take.id));
        now.take = { ...now.take, ...endOf(closing) };
      }
    }
    if (current === now) hear({ type: 'container-closed', well: closing.closedWell });
  }

  async function startTrial(
    setupId: string,
    lengthS: number | null,
    kind: RolledKind = 'trial',
    driveId: string | null = null,
  ): Promise<Take> {
    const id = newTakeId();
    await makeRoom({ jobs, life: () => state, ended: () => current?.whenEnded ?? null });
    hear({ type: 'trial-asked', takeId: id });
    try {
      await context.hindsight.rest();
      const prepared = await prepareTrial(context, id, { setupId, lengthS, kind, driveId });
      current = currentTake(live, { take: prepared.take, prepared, how: 'error', text: null });
      live.setTake('armed', liveAtStart(prepared.take));
      if (prepared.notHeld) live.notify('loss', 'Nothing is held beside this take', prepared.notHeld, id);
      hear({ type: 'prepared' });
      return prepared.take;
    } catch (error) {
      hear({ type: 'prepare-failed' });
      context.hindsight.resume();
      throw error;
    }
  }

  /** Brings one take that was left open to its end. */
  async function recover(take: Take, before: Current | null = null, claimed = ignored): Promise<void> {
    const folder = takes.folder(take.id);
    const closing = before?.closing ?? storedClosing(folder);
    const living = closing ? false : await closesAlone(take, folder, context.hangMs, log);
    const whole = closing?.closedWell === true && take.machine.origin !== 'simulated';
    const left = whole ? 'closed' : living ? 'living' : 'open';
    const how = closing?.end ?? take.end ?? 'server-gone';
    const text = closing
      ? closing.endText
      : (before?.text ?? 'The application and the recorder ended while the take was rolling.');
    const now: Current = {
      ...currentTake(live, { take, prepared: null, how, text }),
      closing,
      due: before?.due ?? null,
    };
    // What the take ended with has to stand with it before anybody tells of it.
    if (closing && left === 'closed')
      now.take = await after.storeClosed(take, closing).catch(() => ({ ...take, ...endOf(closing) }));
    // Whoever is turned down here has taken nothing from the take that rolls.
    const step = stepLife(state, { type: 'orphan-found', takeId: take.id, left });
    if (step.refusal) throw refusalProblem(step.refusal, current?.take ?? null, jobs.list());
    current = now;
    live.setTake('closing', liveAtStart(take, 'rescuing'));
    hear({ type: 'orphan-found', takeId: take.id, left });
    claimed();
    if (left === 'living')
      await watchOrphan({
        ...{ take, folder, log, hangMs: context.hangMs },
        watching: () => state.phase === 'watching',
        closed: (told) => onClosed(now, told, null),
        gone: () => hear({ type: 'recorder-gone' }),
      });
    await now.whenEnded;
  }

  async function beside<T>(task: () => Promise<T>): Promise<T> {
    hear({ type: 'job-asked' });
    try {
      return await task();
    } finally {
      hear({ type: 'job-ended' });
    }
  }

  /** Waits for the take that is made. @returns whether another may follow: the application does not end */
  async function free(): Promise<boolean> {
    while (current && !state.leaving) await current.whenEnded;
    return !state.leaving;
  }

  return {
    startTrial,
    onEnded: (listener) => void endListeners.add(listener),
    stop: () => hear({ type: 'stop-asked' }),
    ...createWhileRolling({
      rolling: () => (state.phase === 'rolling' ? current : null),
      heard,
      recorder: recorder.now,
      keeping,
    }),
    beside,
    rewrap: (takeId, into) => beside(() => after.rewrap(takeId, into)),
    async lookAgain(takeId) {
      const take = await takes.get(takeId);
      if (take.state !== 'waiting')
        throw problem('recorder-idle', `Trial ${take.number} waits for nothing; there is nothing to look for again.`);
      await recover(take);
      return takes.get(takeId);
    },
    async recoverOrphans() {
      const left = await takes.leftOpen();
      after.dropKept((await takes.list()).filter((take) => !left.some((open) => open.id === take.id)));
      const { claimed, whole } = recoverAll(
        { log, takes, free, recover: (take, begun) => recover(take, null, begun) },
        left,
      );
      await claimed;
      return { whole: whole.then(recorder.ready).then(ignored, ignored) };
    },
    enginePid: () => recorder.now()?.pid ?? null,
    async shutDown() {
      hear({ type: 'quit-asked' });
      if (current) await Promise.race([current.whenEnded, pause(leavingPatienceMs)]);
      jobs.cancelAll();
      // A recorder that still closes a take goes on alone; an idle one that does not hear is ended.
      await recorder.leave(current !== null);
      watchdog.stop();
      unfinished.close();
    },
  };
}
