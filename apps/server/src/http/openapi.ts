import { z } from 'zod';
import { problemSchema } from '@mellow/model';
import type { Route, RouteDefinition } from '../routes/route';

const schemaOf = (schema: z.ZodType): unknown =>
  z.toJSONSchema(schema, { target: 'draft-2020-12', unrepresentable: 'any', io: 'input' });

/** The description of the API (OpenAPI 3.1), made from the schemas that the routes themselves use. */
export function openApiDocument(routes: readonly Route[]): unknown {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const { definition } of routes) {
    const path = `/api${definition.path}`;
    paths[path] = { ...paths[path], [definition.method]: operationOf(definition) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Mellow Frame',
      version: '1',
      description: 'Recorder, setups, takes and drives of this PC. Errors are problem documents (RFC 9457).',
    },
    servers: [{ url: '/' }],
    paths,
    components: { schemas: { Problem: schemaOf(problemSchema) } },
  };
}

function operationOf(definition: RouteDefinition): unknown {
  const parameters = [...parametersOf(definition.params, 'path'), ...parametersOf(definition.query, 'query')];
  const status = String(definition.status ?? (definition.reply === null ? 204 : 200));
  const content =
    definition.reply === null
      ? undefined
      : typeof definition.reply === 'string'
        ? { [definition.reply]: {} }
        : { 'application/json': { schema: schemaOf(definition.reply) } };
  return {
    summary: definition.summary,
    operationId: `${definition.method}${definition.path.replace(/[{}]/g, '').replace(/[/.](\w)/g, (_, c: string) => c.toUpperCase())}`,
    ...(parameters.length ? { parameters } : {}),
    ...(definition.body
      ? { requestBody: { required: true, content: { 'application/json': { schema: schemaOf(definition.body) } } } }
      : {}),
    responses: {
      [status]: { description: 'Done', ...(content ? { content } : {}) },
      default: {
        description: 'A problem',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  };
}

function parametersOf(schema: z.ZodObject | undefined, place: 'path' | 'query'): unknown[] {
  if (!schema) return [];
  return Object.entries(schema.shape).map(([name, part]) => ({
    name,
    in: place,
    required: place === 'path',
    schema: schemaOf(part as z.ZodType),
  }));
}
