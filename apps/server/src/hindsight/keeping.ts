import type { EngineEvent, Kept } from '@mellow/model';

/** Keeping is writing: whoever is silent for so long has stopped. */
const patienceMs = 120_000;

/** Wishes to keep what is held, until the recorder answers them. */
export interface Keeping {
  /** @param ask sends the wish */
  asked(id: string, ask: () => void): Promise<Kept>;
  hear(event: EngineEvent): void;
  /** Nobody will answer any more. */
  giveUp(why: string): void;
}

export function createKeeping(): Keeping {
  const waiting = new Map<string, (kept: Kept) => void>();
  const answer = (kept: Kept): void => {
    waiting.get(kept.id)?.(kept);
    waiting.delete(kept.id);
  };
  return {
    asked: (id, ask) =>
      new Promise((resolve) => {
        const late = setTimeout(() => answer({ ok: false, id, why: 'It was not written in time.' }), patienceMs);
        waiting.set(id, (kept) => {
          clearTimeout(late);
          resolve(kept);
        });
        ask();
      }),
    hear: (event) => void (event.type === 'kept' && answer(event.kept)),
    giveUp(why) {
      for (const id of [...waiting.keys()]) answer({ ok: false, id, why });
    },
  };
}
