import { existsSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Response } from 'express';
import { z } from 'zod';
import { ledgerNames } from '@mellow/engine';
import { logLineSchema } from '@mellow/model';
import { problem } from '../errors/problem';
import { readLog } from '../program/appLog';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

const laneQuery = z.object({ lane: z.coerce.number().int().min(0).max(5).default(0) });

/** Files of a take, and what is made of them for a page. */
export function takeFileRoutes({ takes, media }: Services): Route[] {
  return [
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
