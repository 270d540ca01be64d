import { leftAloneSchema } from '@mellow/model';
import { eq } from 'drizzle-orm';
import type { Store } from '../db/openStore';
import { settings } from '../db/schema';
import type { LiveHub } from './liveHub';

/** Programs that are never recorded by themselves. */
export interface LeftAlone {
  names(): Promise<string[]>;
  set(names: string[]): Promise<string[]>;
}

const key = 'left-alone';

export function createLeftAlone(store: Store, live: LiveHub): LeftAlone {
  return {
    async names() {
      const [found] = await store.db.select().from(settings).where(eq(settings.key, key));
      return leftAloneSchema.safeParse(found ? JSON.parse(found.value) : []).data ?? [];
    },
    async set(names) {
      const value = JSON.stringify(names);
      await store.write((db) =>
        db.insert(settings).values({ key, value }).onConflictDoUpdate({ target: settings.key, set: { value } }),
      );
      live.dataChanged();
      return names;
    },
  };
}
