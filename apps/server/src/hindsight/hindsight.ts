import type { KeepOrder, Kept } from '@mellow/model';
import { problem } from '../errors/problem';
import type { WatchOrder } from '../orders/heldOrder';
import { begin, createHolder, end, show, tell, type HindsightContext, type Holder } from './holder';

/** Holds the last minutes of a setup's source while no take rolls, in a recorder of its own. */
export interface HindsightService {
  /** Begins to hold; whatever another setup held is let go. @throws a problem in words */
  watch(setupId: string): Promise<void>;
  unwatch(): Promise<void>;
  /** Lets the machine go for a take or a measurement; what was held is gone. */
  rest(): Promise<void>;
  /** Begins anew after a rest, where it is wanted. */
  resume(): void;
  /** What is held now; null where nothing is. */
  now(): WatchOrder | null;
  /** Writes part of it into a reserved file. */
  keep(keep: KeepOrder): Promise<Kept>;
  /** Process number of what holds; null where nothing does. */
  enginePid(): number | null;
  shutDown(): Promise<void>;
}

export function createHindsightService(context: HindsightContext): HindsightService {
  const holder = createHolder(context);
  return {
    watch: (setupId) => watch(holder, setupId),
    unwatch: () =>
      holder.inTurn(async () => {
        holder.wanted = null;
        await end(holder);
        const idle = holder.client;
        holder.client = null;
        idle?.quit();
        tell(holder);
      }),
    async rest() {
      holder.resting++;
      await holder.inTurn(async () => {
        await end(holder);
        if (holder.wanted !== null) show(holder, 'resting');
      });
    },
    resume() {
      holder.resting = Math.max(0, holder.resting - 1);
      holder.tries = 0;
      if (holder.wanted !== null && holder.resting === 0) void holder.inTurn(() => begin(holder)).catch(() => {});
    },
    now: () => (holder.state === 'on' ? holder.watched : null),
    keep(keep) {
      const { client, watched, keeping } = holder;
      if (!client || !watched) throw problem('recorder-idle', 'Nothing is held now. Nothing was kept.');
      return keeping.asked(keep.id, () => client.keep(keep));
    },
    enginePid: () => holder.client?.pid ?? null,
    async shutDown() {
      holder.wanted = null;
      holder.watchdog.stop();
      await holder.inTurn(() => end(holder));
      holder.client?.quit();
    },
  };
}

async function watch(holder: Holder, setupId: string): Promise<void> {
  holder.tries = 0;
  await holder.inTurn(async () => {
    await end(holder);
    holder.wanted = setupId;
    if (holder.context.live.state().recorder !== 'idle') return show(holder, 'resting');
    try {
      await begin(holder);
    } catch (error) {
      holder.wanted = null;
      tell(holder);
      throw error;
    }
  });
}
