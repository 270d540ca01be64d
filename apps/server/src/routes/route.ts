import type { Request, Response, Router } from 'express';
import { z } from 'zod';
import { problem } from '../errors/problem';

/** One route of the API: what it takes and gives back as schemas, from which the description is made too. */
export interface RouteDefinition {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With parameters in braces, as OpenAPI writes them. */
  path: string;
  summary: string;
  params?: z.ZodObject;
  query?: z.ZodObject;
  body?: z.ZodType;
  /** JSON that comes back; a text names another kind of content. */
  reply: z.ZodType | string | null;
  status?: number;
}

interface Parsed<P, Q, B> {
  params: P;
  query: Q;
  body: B;
  request: Request;
  response: Response;
}

export interface Route {
  definition: RouteDefinition;
  mount(router: Router): void;
}

type Output<T> = T extends z.ZodType ? z.infer<T> : undefined;

/** Binds a definition to its work: parse, do, reply. Work that answered by itself returns undefined. */
export function route<const D extends RouteDefinition>(
  definition: D,
  work: (parsed: Parsed<Output<D['params']>, Output<D['query']>, Output<D['body']>>) => Promise<unknown> | unknown,
): Route {
  return {
    definition,
    mount(router) {
      router[definition.method](definition.path.replace(/\{(\w+)\}/g, ':$1'), async (request, response) => {
        const parsed = {
          params: parsePart(definition.params, request.params, 'address'),
          query: parsePart(definition.query, request.query, 'query'),
          body: parsePart(definition.body, bodyOf(definition, request), 'body'),
          request,
          response,
        };
        const result = await work(parsed as Parsed<Output<D['params']>, Output<D['query']>, Output<D['body']>>);
        if (response.headersSent || response.writableEnded) return;
        if (definition.reply === null) response.status(definition.status ?? 204).end();
        else if (result !== undefined) response.status(definition.status ?? 200).json(result);
      });
    },
  };
}

/** A route that takes a body takes JSON, also an empty object; a form or a plain text is none. */
function bodyOf(definition: RouteDefinition, request: Request): unknown {
  if (definition.body && request.body === undefined)
    throw problem('bad-request', 'This needs a body of JSON (application/json), and none came. Nothing was changed.');
  return request.body;
}

function parsePart(schema: z.ZodType | undefined, value: unknown, part: string): unknown {
  if (!schema) return undefined;
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const fields = result.error.issues
    .slice(0, 10)
    .map((issue) => ({ path: issue.path.join('.'), message: issue.message }));
  const first = fields[0];
  throw problem(
    'bad-request',
    `The ${part} does not fit: ${first ? `${first.path || 'it'}: ${first.message}` : 'unknown reason'}. Nothing was changed.`,
    fields,
  );
}

export const idParams = z.object({ id: z.string().min(1).max(40) });
