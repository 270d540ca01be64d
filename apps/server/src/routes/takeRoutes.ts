import { existsSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Response } from 'express';
import { z } from 'zod';
import { csvHeading, csvRows, toRows } from '@mellow/core';
import { ledgerNames, readSeconds } from '@mellow/engine';
import {
  brokenTakeSchema,
  ledgerRowsSchema,
  logLineSchema,
  lossListSchema,
  pyramidSchema,
  rangeQuerySchema,
  removalSchema,
  rewrapBodySchema,
  secondRowSchema,
  takeListSchema,
  takeSchema,
} from '@mellow/model';
import { idParams, route, type Route } from '../http/route';
import { problem } from '../http/problem';
import { openFolder } from '../services/openFolder';
import { readLog } from '../services/appLog';
import type { Services } from '../services/services';

const mostRows = 20_000;
const csvChunk = 5000;
/** A day of seconds. */
const mostSeconds = 86_400;

export function takeRoutes({ takes, recorder, media }: Services): Route[] {
  const laneQuery = z.object({ lane: z.coerce.number().int().min(0).max(5).default(0) });
  return [
    route(
      {
        method: 'get',
        path: '/takes',
        summary: 'All takes, newest first',
        query: z.object({ setup: z.string().max(40).optional() }),
        reply: takeListSchema,
      },
      ({ query }) => takes.list(query.setup),
    ),
    route(
      {
        method: 'get',
        path: '/broken-takes',
        summary: 'Takes that cannot be read, with the reason',
        reply: z.array(brokenTakeSchema),
      },
      () => takes.broken(),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/look-again',
        summary: 'Look again for a take whose drive was away, or read it back again',
        params: idParams,
        reply: takeSchema,
      },
      ({ params }) => recorder.lookAgain(params.id),
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}',
        summary: 'One take with facts and verdict',
        params: idParams,
        reply: takeSchema,
      },
      ({ params }) => takes.get(params.id),
    ),
    route(
      {
        method: 'delete',
        path: '/takes/{id}',
        summary: 'Delete a take with every file that it made',
        params: idParams,
        reply: removalSchema,
      },
      ({ params }) => takes.remove(params.id),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/rewrap',
        summary: 'Copy the tracks into one file beside the take, a plain MP4 or a Matroska; parts are joined',
        params: idParams,
        body: rewrapBodySchema,
        reply: takeSchema,
      },
      ({ params, body }) => recorder.rewrap(params.id, body.into),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/show',
        summary: 'Show the folder of a take in the system’s file manager',
        params: idParams,
        reply: null,
      },
      async ({ params }) => openFolder(dirname(await takes.file(params.id))),
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/file',
        summary: 'The file as it is, with ranges; of a take in parts the first, or the one asked for',
        params: idParams,
        query: z.object({ part: z.coerce.number().int().min(1).max(10_000).default(1) }),
        reply: 'application/octet-stream',
      },
      async ({ params, query, response }) => {
        const path = await takes.file(params.id, query.part);
        await send(response, path, {
          'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(wellFormed(basename(path)))}`,
        });
      },
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/media',
        summary: 'The picture with one lane, to be played in a page',
        params: idParams,
        query: laneQuery,
        reply: 'video/mp4',
      },
      async ({ params, query, response }) => {
        const { path, type } = await media.withLane(params.id, query.lane);
        await send(response, path, { 'Content-Type': type });
      },
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/still',
        summary: 'A small picture of the take',
        params: idParams,
        reply: 'image/jpeg',
      },
      async ({ params, response }) => {
        await takes.get(params.id);
        const path = join(takes.folder(params.id), 'still.jpg');
        if (!existsSync(path))
          throw problem('file-missing', 'There is no still of this take; nothing of it could be decoded.');
        await send(response, path, { 'Content-Type': 'image/jpeg', 'Cache-Control': 'max-age=3600' });
      },
    ),
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
      async ({ params, response }) => {
        const take = await takes.get(params.id);
        const ledger = await takes.ledger(params.id);
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
      },
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/log',
        summary: 'What the recorder said of this take',
        params: idParams,
        reply: z.array(logLineSchema),
      },
      async ({ params }) => {
        await takes.get(params.id);
        return readLog(join(takes.folder(params.id), ledgerNames.log));
      },
    ),
  ];
}

/** A name with half of a pair of code units, as a cut-off emoji leaves it, cannot be written in an address. */
function wellFormed(text: string): string {
  return text.replace(/[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g, '_');
}

/** Resolves when the reader has taken what was written, or is gone. */
function drained(response: Response): Promise<void> {
  return new Promise((resolve) => {
    response.once('drain', resolve);
    response.once('close', resolve);
  });
}

/** Sends a file with ranges; the promise ends with the answer. */
function send(response: Response, path: string, headers: Record<string, string>): Promise<void> {
  return new Promise((resolve, reject) => {
    response.sendFile(
      basename(path),
      { root: dirname(path), headers, dotfiles: 'deny', acceptRanges: true },
      (error?: NodeJS.ErrnoException) => {
        // A reader that goes away, or asks for a range that is not there, is no fault of ours.
        if (!error || response.headersSent || error.code === 'ECONNABORTED') resolve();
        else reject(error);
      },
    );
  });
}
