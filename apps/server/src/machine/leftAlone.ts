import { leftAloneSchema } from '@mellow/model';
import type { Store } from '../db/openStore';
import { readSetting, writeSetting } from '../db/setting';
import type { LiveHub } from '../program/liveHub';

/** Programs that are never recorded by themselves. */
export interface LeftAlone {
  names(): Promise<string[]>;
  set(names: string[]): Promise<string[]>;
}

const key = 'left-alone';

export function createLeftAlone(store: Store, live: LiveHub): LeftAlone {
  return {
    async names() {
      return leftAloneSchema.safeParse(JSON.parse((await readSetting(store, key)) ?? '[]')).data ?? [];
    },
    async set(names) {
      await writeSetting(store, key, JSON.stringify(names));
      live.dataChanged();
      return names;
    },
  };
}
