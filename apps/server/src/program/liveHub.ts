import { idleState, type LiveState, type LiveTake, type RunningJob } from '@mellow/model';

/** The live state, held once and told to every listener; a listener that is slow gets the latest state only. */
export interface LiveHub {
  state(): LiveState;
  setTake(recorder: LiveState['recorder'], take: LiveTake | null): void;
  setJobs(jobs: RunningJob[]): void;
  setWindowHidden(hidden: boolean): void;
  setWatching(watching: LiveState['watching']): void;
  setRollsSoon(rollsSoon: LiveState['rollsSoon']): void;
  /** Stored data changed: pages fetch again. */
  dataChanged(): void;
  /** Numbers of notices rise across restarts, so that a page knows which it has seen. */
  notify(tone: 'note' | 'loss', title: string, text: string, takeId: string | null): void;
  /** A take is gone: no notice leads to it any more. */
  forget(takeId: string): void;
  listen(listener: (state: LiveState) => void): () => void;
}

export function createLiveHub(): LiveHub {
  const listeners = new Set<(state: LiveState) => void>();
  let state: LiveState = idleState;
  const update = (change: Partial<LiveState>): void => {
    state = { ...state, ...change, serial: state.serial + 1 };
    for (const listener of listeners) listener(state);
  };
  return {
    state: () => state,
    setTake: (recorder, take) => update({ recorder, take }),
    setWindowHidden: (windowHidden) => update({ windowHidden }),
    setWatching: (watching) => update({ watching }),
    setRollsSoon: (rollsSoon) => update({ rollsSoon }),
    setJobs: (jobs) => update({ jobs: jobs.map((job) => ({ ...job })) }),
    dataChanged: () => update({ dataVersion: state.dataVersion + 1 }),
    notify: (tone, title, text, takeId) =>
      update({ notice: { id: Math.max((state.notice?.id ?? 0) + 1, Date.now()), tone, title, text, takeId } }),
    forget(takeId) {
      if (state.notice?.takeId === takeId) update({ notice: { ...state.notice, takeId: null } });
    },
    listen(listener) {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
  };
}
