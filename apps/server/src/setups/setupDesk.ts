import type { Brief, PracticeGame, Recipe, Setup } from '@mellow/model';
import type { Store } from '../db/openStore';
import type { LiveHub } from '../program/liveHub';
import type { SetupRow, SetupRows } from './setupRows';

/** What changes of setups are made with. */
export interface SetupDesk {
  store: Store;
  rows: SetupRows;
  live: LiveHub;
  /** Changes a row, and tells everybody. */
  update(id: string, change: Partial<SetupRow>): Promise<Setup>;
  /** The recipe that a brief leads to on a machine. */
  startFor(brief: Brief, game: PracticeGame, machineId: string): Promise<Recipe>;
}
