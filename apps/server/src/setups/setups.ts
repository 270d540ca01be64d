import { eq } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import PQueue from 'p-queue';
import { plainPracticeGame, startWithin } from '@mellow/core';
import {
  briefSchema,
  practiceGameSchema,
  type BrokenSetup,
  type NewSetup,
  type Recipe,
  type RecipeVersion,
  type SampleSource,
  type Setup,
  type SetupPatch,
  type WithGame,
} from '@mellow/model';
import type { Store } from '../db/openStore';
import { recipeVersions, setups } from '../db/schema';
import type { DriveService } from '../drives/drives';
import { thisMachineId, type MachineService } from '../machine/machines';
import type { LiveHub } from '../program/liveHub';
import { setDraft, undoDraft, versionOfDraft } from './drafts';
import type { ForecastContexts } from './forecastContexts';
import type { SetupDesk } from './setupDesk';
import { createSetupRows } from './setupRows';

export interface SetupService {
  /** Setups that can be read; the others are told by `broken`. */
  list(): Promise<Setup[]>;
  /** Rows that cannot be read, with the reason. */
  broken(): Promise<BrokenSetup[]>;
  get(id: string): Promise<Setup>;
  create(body: NewSetup): Promise<Setup>;
  /** Stores a setup as it is, with its versions; used when something is brought in. */
  bringIn(setup: Setup): Promise<void>;
  change(id: string, patch: SetupPatch): Promise<Setup>;
  remove(id: string): Promise<void>;
  setDraft(id: string, recipe: Recipe): Promise<Setup>;
  undo(id: string): Promise<Setup>;
  /** What the setup's trials play; null: the source itself. */
  setSample(id: string, sample: SampleSource | null): Promise<Setup>;
  /** The program that a full take begins and ends with. */
  setWithGame(id: string, withGame: WithGame | null): Promise<Setup>;
  /** The draft's number: that of the last version if nothing changed, otherwise a new one. */
  version(id: string): Promise<RecipeVersion>;
}

export function createSetupService(
  store: Store,
  drives: DriveService,
  live: LiveHub,
  machines: MachineService,
  contexts: ForecastContexts,
): SetupService {
  const rows = createSetupRows(store);
  const desk: SetupDesk = {
    ...{ store, rows, live },
    async update(id, change) {
      await store.write((db) => db.update(setups).set(change).where(eq(setups.id, id)));
      live.dataChanged();
      return rows.get(id);
    },
    async startFor(brief, game, machineId) {
      const machine = await machines.get(machineId);
      const places = await contexts.drivesOf(machine);
      const driveId = machine.origin === 'simulated' ? (places[0]?.id ?? 'none') : await drives.defaultId();
      return startWithin(brief, { game, machine, drives: places, driveId }).recipe;
    },
  };
  // A change is made from what is there: two at once, made from the same, would lose one of them.
  const queue = new PQueue({ concurrency: 1 });
  const inTurn =
    <A extends unknown[], R>(change: (desk: SetupDesk, ...args: A) => Promise<R>) =>
    (...args: A): Promise<R> =>
      queue.add(() => change(desk, ...args)) as Promise<R>;
  return {
    list: rows.list,
    broken: rows.broken,
    get: rows.get,
    create: (body) => create(desk, body),
    bringIn: (setup) => bringIn(desk, setup),
    change: inTurn(change),
    remove: (id) => remove(desk, id),
    setDraft: inTurn(setDraft),
    async setSample(id, sample) {
      await rows.row(id);
      return desk.update(id, { sample: sample && JSON.stringify(sample) });
    },
    async setWithGame(id, withGame) {
      await rows.row(id);
      return desk.update(id, { withGame: withGame && JSON.stringify(withGame) });
    },
    undo: inTurn(undoDraft),
    version: inTurn(versionOfDraft),
  };
}

async function create({ store, rows, live, startFor }: SetupDesk, body: NewSetup): Promise<Setup> {
  const game = practiceGameSchema.parse(body.game ?? plainPracticeGame);
  const brief = briefSchema.parse(body.brief);
  const machineId = body.machineId ?? thisMachineId;
  const text = JSON.stringify(await startFor(brief, game, machineId));
  const row = {
    id: nanoid(10),
    name: body.name,
    demo: false,
    game: JSON.stringify(game),
    brief: JSON.stringify(brief),
    ...{ machineId, draft: text, start: text, undo: '[]' },
    createdAt: new Date().toISOString(),
  };
  await store.write((db) => db.insert(setups).values(row));
  live.dataChanged();
  return rows.get(row.id);
}

async function bringIn({ store, live }: SetupDesk, setup: Setup): Promise<void> {
  const { id, name, demo, machineId, sample, hindsight, createdAt } = setup;
  const row = {
    ...{ id, name, demo, machineId, createdAt, undo: '[]' },
    game: JSON.stringify(setup.game),
    brief: JSON.stringify(setup.brief),
    sample: sample && JSON.stringify(sample),
    hindsight: hindsight && JSON.stringify(hindsight),
    locks: JSON.stringify(setup.locks),
    draft: JSON.stringify(setup.draft),
    start: JSON.stringify(setup.start),
  };
  const versions = setup.versions.map(({ number, recipe, createdAt: at }) => ({
    ...{ setupId: id, number, createdAt: at },
    recipe: JSON.stringify(recipe),
  }));
  await store.write((db) =>
    db.batch([db.insert(setups).values(row), ...versions.map((version) => db.insert(recipeVersions).values(version))]),
  );
  live.dataChanged();
}

async function change({ rows, update, startFor }: SetupDesk, id: string, patch: SetupPatch): Promise<Setup> {
  const before = await rows.get(id);
  const { name, game, brief, machineId, locks, hindsight } = patch;
  // What the notches on the rails show follows from brief, game and machine.
  const start =
    game || brief || machineId
      ? await startFor(brief ?? before.brief, game ?? before.game, machineId ?? before.machineId)
      : before.start;
  const moved = machineId !== undefined && machineId !== before.machineId;
  // A recipe that nobody has touched or tried yet follows the answers.
  const follows = !before.versions.length && JSON.stringify(before.draft) === JSON.stringify(before.start);
  return update(id, {
    start: JSON.stringify(start),
    ...(moved ? { machineId } : {}),
    ...(follows
      ? { draft: JSON.stringify(start) }
      : moved
        ? { draft: JSON.stringify({ ...before.draft, driveId: start.driveId }) }
        : {}),
    ...(name === undefined ? {} : { name }),
    ...(game === undefined ? {} : { game: JSON.stringify(game) }),
    ...(brief === undefined ? {} : { brief: JSON.stringify(brief) }),
    ...(hindsight === undefined ? {} : { hindsight: hindsight && JSON.stringify(hindsight) }),
    ...(locks === undefined ? {} : { locks: JSON.stringify(locks) }),
  });
}

async function remove({ store, rows, live }: SetupDesk, id: string): Promise<void> {
  await rows.row(id);
  await store.write((db) =>
    db.batch([
      db.delete(recipeVersions).where(eq(recipeVersions.setupId, id)),
      db.delete(setups).where(eq(setups.id, id)),
    ]),
  );
  live.dataChanged();
}
