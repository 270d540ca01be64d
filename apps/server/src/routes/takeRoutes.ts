import { existsSync, mkdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { z } from 'zod';
import { csvHeading, csvRows, lossRuns, pyramidOf, sliceColumns, toRows } from '@mellow/core';
import { ledgerNames, readSeconds } from '@mellow/engine';
import {
  ledgerRowsSchema,
  logLineSchema,
  lossListSchema,
  pyramidSchema,
  rangeQuerySchema,
  secondRowSchema,
  takeListSchema,
  takeSchema,
} from '@mellow/model';
import { idParams, route, type Route } from '../http/route';
import { problem } from '../http/problem';
import { readLog } from '../services/appLog';
import type { Services } from '../services/services';

const mostRows = 20_000;
const csvChunk = 5000;

export function takeRoutes({ takes, recorder, folders }: Services): Route[] {
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
        summary: 'Delete a take with its file and ledger',
        params: idParams,
        reply: null,
      },
      ({ params }) => takes.remove(params.id),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/rewrap',
        summary: 'Copy the tracks into a plain MP4 beside the take',
        params: idParams,
        reply: takeSchema,
      },
      ({ params }) => recorder.rewrap(params.id),
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}/file',
        summary: 'The file as it is, with ranges',
        params: idParams,
        reply: 'application/octet-stream',
      },
      async ({ params, response }) => {
        const path = await takes.file(params.id);
        await send(response, path, {
          'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(basename(path))}`,
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
        const path = await takes.file(params.id);
        const take = await takes.get(params.id);
        const lanes = take.facts?.lanes.length ?? 0;
        if (query.lane > 0 && query.lane >= lanes)
          throw problem('not-found', `The take has ${lanes} lanes; lane ${query.lane + 1} is not among them.`);
        const inMp4 =
          ['h264', 'hevc', 'av1', 'mjpeg'].includes(take.facts?.picture.codec ?? '') &&
          take.facts?.lanes[query.lane]?.codec !== 'pcm_s16le';
        const suffix = inMp4 ? '.mp4' : '.mkv';
        // A page plays the first track only, and Matroska from a recorder has no seek table for it: one copy per lane is cached.
        const cached = join(folders.cache, `${take.id}-${query.lane}${suffix}`);
        if (!existsSync(cached)) {
          mkdirSync(folders.cache, { recursive: true });
          await recorder.job({ kind: 'hear', filePath: path, lane: query.lane, outPath: cached });
        }
        await send(response, cached, { 'Content-Type': suffix === '.mp4' ? 'video/mp4' : 'video/x-matroska' });
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
        const columns = takes.ledger(params.id);
        const to = Math.min(query.to ?? query.from + 1000, columns.length, query.from + mostRows);
        return toRows(sliceColumns(columns, query.from, to), query.from);
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
        const columns = takes.ledger(params.id);
        return pyramidOf(columns, take.recipe.rate, query.from, query.to ?? columns.length, query.buckets);
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
        const runs = lossRuns(takes.ledger(params.id));
        return { total: runs.reduce((sum, run) => sum + run.frames, 0), runs: runs.slice(0, 2000) };
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
        return readSeconds(takes.folder(params.id));
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
        const columns = takes.ledger(params.id);
        response.setHeader('Content-Type', 'text/csv; charset=utf-8');
        response.setHeader('Content-Disposition', `attachment; filename="trial-${take.number}-ledger.csv"`);
        response.write(`${csvHeading}\r\n`);
        for (let n = 0; n < columns.length; n += csvChunk) response.write(csvRows(columns, n, n + csvChunk));
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

/** Sends a file with ranges; the promise ends with the answer. */
function send(response: import('express').Response, path: string, headers: Record<string, string>): Promise<void> {
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
