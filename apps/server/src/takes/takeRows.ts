import { desc, eq } from 'drizzle-orm';
import { renewed } from '@mellow/core';
import { takeSchema, type BrokenTake, type Take } from '@mellow/model';
import type { Store } from '../db/openStore';
import { takes } from '../db/schema';
import { problem } from '../errors/problem';

type Row = typeof takes.$inferSelect;

/** Takes as they stand in the database. */
export interface TakeRows {
  /** @throws a problem where there is none */
  row(id: string): Promise<{ id: string; number: number; read: Take | string }>;
  /** @throws a problem where there is none, or it cannot be read */
  get(id: string): Promise<Take>;
  /** Newest first; rows that cannot be read are left out. */
  list(setupId?: string): Promise<Take[]>;
  broken(): Promise<BrokenTake[]>;
  /** Its row is gone. */
  forget(id: string): void;
}

/** What stands in columns of its own beside the document. */
export const columnsOf = (take: Take): Pick<Row, 'number' | 'state' | 'document'> => ({
  number: take.number,
  state: take.state,
  document: JSON.stringify(take),
});

/** @returns why it cannot be read, where it cannot */
function parseTake(document: string): Take | string {
  try {
    return renewed(takeSchema.parse(JSON.parse(document)));
  } catch (error) {
    return error instanceof SyntaxError ? 'its row is no JSON' : 'its row does not fit this version';
  }
}

export function createTakeRows(store: Store): TakeRows {
  /** Parsing is nearly all that a list of thousands costs: what stands in a row as it did is not parsed again. */
  const parsed = new Map<string, { document: string; take: Take | string }>();
  function read({ id, document }: Row): Take | string {
    const known = parsed.get(id);
    if (known?.document === document) return known.take;
    const take = parseTake(document);
    parsed.set(id, { document, take });
    return take;
  }
  async function row(id: string): Promise<{ id: string; number: number; read: Take | string }> {
    const found = (await store.db.select().from(takes).where(eq(takes.id, id)))[0];
    if (!found)
      throw problem(
        'not-found',
        `There is no take "${id}". It may have been deleted; the list of takes shows those there are.`,
      );
    return { id, number: found.number, read: read(found) };
  }
  function rows(setupId?: string): Promise<Row[]> {
    const query = store.db.select().from(takes);
    return setupId === undefined
      ? query.orderBy(desc(takes.createdAt))
      : query.where(eq(takes.setupId, setupId)).orderBy(desc(takes.createdAt));
  }
  return {
    row,
    async get(id) {
      const { number, read: take } = await row(id);
      if (typeof take === 'string')
        throw problem(
          'take-unreadable',
          `Trial ${number} cannot be read: ${take}. Its files were not touched; deleting it removes the row only.`,
        );
      return take;
    },
    async list(setupId) {
      return (await rows(setupId)).map(read).filter((take): take is Take => typeof take !== 'string');
    },
    async broken() {
      return (await rows()).flatMap((one) => {
        const take = read(one);
        if (typeof take !== 'string') return [];
        return [{ id: one.id, setupId: one.setupId, number: one.number, createdAt: one.createdAt, why: take }];
      });
    },
    forget: (id) => void parsed.delete(id),
  };
}
