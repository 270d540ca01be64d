import { asc, eq } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import PQueue from 'p-queue';
import { z } from 'zod';
import { plainPracticeGame, recipeFromBrief } from '@mellow/core';
import {
  briefSchema,
  practiceGameSchema,
  recipeSchema,
  setupSchema,
  type Brief,
  type NewSetup,
  type PracticeGame,
  type Recipe,
  type RecipeVersion,
  type SampleSource,
  type Setup,
  type SetupPatch,
  type WithGame,
  type BrokenSetup,
} from '@mellow/model';
import type { Store } from '../db/openStore';
import { recipeVersions, setups } from '../db/schema';
import { problem } from '../http/problem';
import type { DriveService } from './drives';
import type { ForecastContexts } from './forecastContexts';
import { thisMachineId, type MachineService } from './machines';
import type { LiveHub } from './liveHub';

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

const undoKept = 50;
const recipeListSchema = z.array(recipeSchema);

export function createSetupService(
  store: Store,
  drives: DriveService,
  live: LiveHub,
  machines: MachineService,
  contexts: ForecastContexts,
): SetupService {
  type Row = typeof setups.$inferSelect;
  type Versions = (typeof recipeVersions.$inferSelect)[];
  // A change is made from what is there: two at once, made from the same, would lose one of them.
  const queue = new PQueue({ concurrency: 1 });
  const inTurn =
    <A extends unknown[], R>(change: (...args: A) => Promise<R>) =>
    (...args: A): Promise<R> =>
      queue.add(() => change(...args)) as Promise<R>;
  const undoOf = (row: Row): Recipe[] => recipeListSchema.parse(JSON.parse(row.undo));
  const toSetup = (row: Row, versions: Versions): Setup =>
    setupSchema.parse({
      id: row.id,
      name: row.name,
      demo: row.demo,
      game: JSON.parse(row.game),
      brief: JSON.parse(row.brief),
      draft: JSON.parse(row.draft),
      start: JSON.parse(row.start),
      machineId: row.machineId,
      sample: row.sample === null ? null : JSON.parse(row.sample),
      hindsight: row.hindsight === null ? null : JSON.parse(row.hindsight),
      withGame: row.withGame === null ? null : JSON.parse(row.withGame),
      locks: JSON.parse(row.locks),
      undoDepth: undoOf(row).length,
      createdAt: row.createdAt,
      versions: versions
        .filter((v) => v.setupId === row.id)
        .map((v) => ({ number: v.number, recipe: JSON.parse(v.recipe), createdAt: v.createdAt })),
    });
  const rowOf = async (id: string): Promise<Row> => {
    const row = (await store.db.select().from(setups).where(eq(setups.id, id)))[0];
    if (!row)
      throw problem(
        'not-found',
        `There is no setup "${id}". It may have been removed; the list of setups shows those there are.`,
      );
    return row;
  };
  const versionsOf = () => store.db.select().from(recipeVersions).orderBy(asc(recipeVersions.number));
  /** A row that cannot be read is told, and keeps nobody from the others. */
  const readable = (row: Row, versions: Versions): Setup | string => {
    try {
      return toSetup(row, versions);
    } catch (error) {
      return error instanceof SyntaxError ? 'its row is no JSON' : 'its row does not fit this version';
    }
  };
  const get = async (id: string): Promise<Setup> => {
    const setup = readable(await rowOf(id), await versionsOf());
    if (typeof setup === 'string')
      throw problem(
        'setup-unreadable',
        `This setup cannot be read: ${setup}. Its takes are still there; deleting the setup takes them along.`,
      );
    return setup;
  };
  const update = async (id: string, change: Partial<Row>): Promise<Setup> => {
    await store.write((db) => db.update(setups).set(change).where(eq(setups.id, id)));
    live.dataChanged();
    return get(id);
  };
  /** The recipe that a brief leads to on a machine. */
  const startFor = async (brief: Brief, game: PracticeGame, machineId: string): Promise<Recipe> => {
    const machine = await machines.get(machineId);
    const places = await contexts.drivesOf(machine);
    const driveId = machine.origin === 'simulated' ? (places[0]?.id ?? 'none') : await drives.defaultId();
    return recipeFromBrief(brief, { game, machine, drives: places, driveId }).recipe;
  };
  return {
    async list() {
      const versions = await versionsOf();
      return (await store.db.select().from(setups).orderBy(asc(setups.createdAt)))
        .map((row) => readable(row, versions))
        .filter((setup): setup is Setup => typeof setup !== 'string');
    },
    async broken() {
      const versions = await versionsOf();
      return (await store.db.select().from(setups).orderBy(asc(setups.createdAt))).flatMap((row) => {
        const why = readable(row, versions);
        return typeof why === 'string' ? [{ id: row.id, name: row.name, createdAt: row.createdAt, why }] : [];
      });
    },
    get,
    async create(body) {
      const game = practiceGameSchema.parse(body.game ?? plainPracticeGame);
      const brief = briefSchema.parse(body.brief);
      const machineId = body.machineId ?? thisMachineId;
      const recipe = await startFor(brief, game, machineId);
      const text = JSON.stringify(recipe);
      const id = nanoid(10);
      await store.write((db) =>
        db.insert(setups).values({
          id,
          name: body.name,
          demo: false,
          game: JSON.stringify(game),
          brief: JSON.stringify(brief),
          machineId,
          draft: text,
          start: text,
          undo: '[]',
          createdAt: new Date().toISOString(),
        }),
      );
      live.dataChanged();
      return get(id);
    },
    async bringIn(setup) {
      await store.write(async (db) => {
        await db.batch([
          db.insert(setups).values({
            id: setup.id,
            name: setup.name,
            demo: setup.demo,
            game: JSON.stringify(setup.game),
            brief: JSON.stringify(setup.brief),
            machineId: setup.machineId,
            sample: setup.sample && JSON.stringify(setup.sample),
            hindsight: setup.hindsight && JSON.stringify(setup.hindsight),
            locks: JSON.stringify(setup.locks),
            draft: JSON.stringify(setup.draft),
            start: JSON.stringify(setup.start),
            undo: '[]',
            createdAt: setup.createdAt,
          }),
          ...setup.versions.map((v) =>
            db.insert(recipeVersions).values({
              setupId: setup.id,
              number: v.number,
              recipe: JSON.stringify(v.recipe),
              createdAt: v.createdAt,
            }),
          ),
        ]);
      });
      live.dataChanged();
    },
    change: inTurn(async (id: string, patch: SetupPatch) => {
      const before = await get(id);
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
    }),
    async remove(id) {
      await rowOf(id);
      await store.write((db) =>
        db.batch([
          db.delete(recipeVersions).where(eq(recipeVersions.setupId, id)),
          db.delete(setups).where(eq(setups.id, id)),
        ]),
      );
      live.dataChanged();
    },
    setDraft: inTurn(async (id: string, recipe: Recipe) => {
      const row = await rowOf(id);
      if (row.draft === JSON.stringify(recipe)) return get(id);
      const undo = [...undoOf(row), recipeSchema.parse(JSON.parse(row.draft))].slice(-undoKept);
      return update(id, { draft: JSON.stringify(recipe), undo: JSON.stringify(undo) });
    }),
    async setSample(id, sample) {
      await rowOf(id);
      return update(id, { sample: sample && JSON.stringify(sample) });
    },
    async setWithGame(id, withGame) {
      await rowOf(id);
      return update(id, { withGame: withGame && JSON.stringify(withGame) });
    },
    undo: inTurn(async (id: string) => {
      const row = await rowOf(id);
      const undo = undoOf(row);
      const before = undo.pop();
      if (!before) throw problem('bad-request', 'Nothing is left to undo in this recipe.');
      return update(id, { draft: JSON.stringify(before), undo: JSON.stringify(undo) });
    }),
    version: inTurn(async (id: string) => {
      const setup = await get(id);
      const last = setup.versions[setup.versions.length - 1];
      const same = setup.versions.filter((v) => JSON.stringify(v.recipe) === JSON.stringify(setup.draft)).pop();
      if (same) return same;
      const version: RecipeVersion = {
        number: (last?.number ?? 0) + 1,
        recipe: setup.draft,
        createdAt: new Date().toISOString(),
      };
      await store.write((db) =>
        db.insert(recipeVersions).values({
          setupId: id,
          number: version.number,
          recipe: JSON.stringify(version.recipe),
          createdAt: version.createdAt,
        }),
      );
      return version;
    }),
  };
}
