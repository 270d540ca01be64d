import { liveStateSchema, type LiveState } from '@mellow/model';
import { flushSync } from 'react-dom';
import { api } from './api';
import { connectionLost, liveArrived } from './liveSlice';
import { pageCost } from './pageCost';
import { createLooks, mayWait } from './quietPage';
import type { AppStore } from './store';

const retryMs = 1500;

/**
 * Connects the store with the recorder's events. One tab of a browser holds the stream and passes it on to the others,
 * so that many tabs cost the recorder one reader; when that tab closes, another takes over.
 */
export function connectLive(store: AppStore): void {
  const channel = new BroadcastChannel('mellow-live');
  const looks = createLooks(window);
  let drawnMs = -Infinity;
  const take = (state: LiveState): void => {
    const before = store.getState().live.state;
    if (before && before.serial === state.serial && before.dataVersion === state.dataVersion) return;
    const quiet = store.getState().ui.quiet && !looks.looking();
    if (quiet && mayWait(before, state, performance.now() - drawnMs)) return;
    drawnMs = performance.now();
    pageCost.count(() => flushSync(() => void store.dispatch(liveArrived(state))));
    if (!before || before.dataVersion !== state.dataVersion || !store.getState().live.connected)
      store.dispatch(api.util.invalidateTags(['Data']));
  };
  channel.onmessage = (event: MessageEvent<unknown>) => {
    if (event.data === 'lost') store.dispatch(connectionLost());
    else {
      const parsed = liveStateSchema.safeParse(event.data);
      if (parsed.success) take(parsed.data);
    }
  };
  void snapshot().then((state) => state && take(state));
  void navigator.locks.request('mellow-live', () => new Promise<void>(() => listen(take, channel, store)));
}

function listen(take: (state: LiveState) => void, channel: BroadcastChannel, store: AppStore): void {
  const source = new EventSource('/api/live');
  source.onmessage = (event: MessageEvent<string>) => {
    const parsed = liveStateSchema.safeParse(JSON.parse(event.data));
    if (!parsed.success) return;
    take(parsed.data);
    channel.postMessage(parsed.data);
  };
  source.onerror = () => {
    source.close();
    store.dispatch(connectionLost());
    channel.postMessage('lost');
    setTimeout(() => listen(take, channel, store), retryMs);
  };
}

async function snapshot(): Promise<LiveState | null> {
  try {
    const parsed = liveStateSchema.safeParse(await (await fetch('/api/state')).json());
    return parsed.success ? parsed.data : null;
  } catch {
    return null;
  }
}
