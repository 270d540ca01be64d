import { eq } from 'drizzle-orm';
import type { Store } from './openStore';
import { settings } from './schema';

/** What is stored under a key of the application's own; null where nothing is. */
export const readSetting = async ({ db }: Store, key: string): Promise<string | null> =>
  (await db.select().from(settings).where(eq(settings.key, key)))[0]?.value ?? null;

/** Stores a text under a key; null takes it away. */
export const writeSetting = async (store: Store, key: string, value: string | null): Promise<void> =>
  void (await store.write((db) =>
    value === null
      ? db.delete(settings).where(eq(settings.key, key))
      : db.insert(settings).values({ key, value }).onConflictDoUpdate({ target: settings.key, set: { value } }),
  ));
