import type { Response } from 'express';
import { z } from 'zod';
import { csvHeading, csvRows, toRows } from '@mellow/core';
import { readSeconds } from '@mellow/engine';
import { ledgerRowsSchema, lossListSchema, pyramidSchema, rangeQuerySchema, secondRowSchema } from '@mellow/model';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

const mostRows = 20_000;
const csvChunk = 5000;
/** A day of seconds. */
const mostSeconds = 86_400;

/** What became of every frame of a take. */
export function ledgerRoutes({ takes }: Services): Route[] {
  return [
    route(
      {
        method: 'get',
        path: '/takes/{id}/ledger',
        summary: 'Rows of the ledger',
        params: idParams,
        query: rangeQuerySchema,
        reply: ledgerRowsSchema,
      },
      async ({ params, query }) => {
        await takes.get(params.id);
        const ledger = await takes.ledger(params.id);
        const to = Math.min(query.to ?? query.from + 1000, ledger.rows, query.from + mostRows);
        return toRows(await ledger.range(query.from, to), query.from);
      },
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/pyramid',
        summary: 'The ledger in pieces of equal length',
        params: idParams,
        query: rangeQuerySchema,
        reply: pyramidSchema,
      },
      async ({ params, query }) => {
        const take = await takes.get(params.id);
        const ledger = await takes.ledger(params.id);
        return ledger.pyramid(take.recipe.rate, query.from, query.to, query.buckets);
      },
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/losses',
        summary: 'Lost frames, in runs',
        params: idParams,
        reply: lossListSchema,
      },
      async ({ params }) => {
        await takes.get(params.id);
        const { total, runs } = await (await takes.ledger(params.id)).losses();
        return { total, runs: runs.slice(0, 2000) };
      },
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/seconds',
        summary: 'Loads by second',
        params: idParams,
        reply: z.array(secondRowSchema),
      },
      async ({ params }) => {
        await takes.get(params.id);
        return readSeconds(takes.folder(params.id)).slice(0, mostSeconds);
      },
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/ledger.csv',
        summary: 'The ledger as CSV',
        params: idParams,
        reply: 'text/csv',
      },
      ({ params, response }) => sendCsv(takes, params.id, response),
    ),
  ];
}

async function sendCsv(takes: Services['takes'], id: string, response: Response): Promise<void> {
  const take = await takes.get(id);
  const ledger = await takes.ledger(id);
  response.setHeader('Content-Type', 'text/csv; charset=utf-8');
  response.setHeader('Content-Disposition', `attachment; filename="trial-${take.number}-ledger.csv"`);
  response.write(`${csvHeading}\r\n`);
  for await (const { first, rows } of ledger.pieces()) {
    for (let n = 0; n < rows.length && !response.destroyed; n += csvChunk) {
      const more = response.write(csvRows(rows, n, Math.min(rows.length, n + csvChunk), first));
      if (!more) await drained(response);
    }
  }
  response.end();
}

/** Resolves when the reader has taken what was written, or is gone. */
function drained(response: Response): Promise<void> {
  return new Promise((resolve) => {
    response.once('drain', resolve);
    response.once('close', resolve);
  });
}
