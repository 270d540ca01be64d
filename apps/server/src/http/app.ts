import { existsSync } from 'node:fs';
import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { errorCode, errorText } from '@mellow/core';
import { guard, keyNeeded, pageCookie, type Keys } from './access';
import { openApiDocument } from './openapi';
import { problem, ProblemError } from '../errors/problem';
import { keyRoutes } from '../routes/keyRoutes';
import { driveRoutes } from '../routes/driveRoutes';
import { machineRoutes } from '../routes/machineRoutes';
import { programRoutes } from '../routes/programRoutes';
import { rollRoutes } from '../routes/rollRoutes';
import { hindsightRoutes } from '../routes/hindsightRoutes';
import { markRoutes } from '../routes/markRoutes';
import { gameRoutes } from '../routes/gameRoutes';
import { setupRoutes } from '../routes/setupRoutes';
import { recipeRoutes } from '../routes/recipeRoutes';
import { soundRoutes } from '../routes/soundRoutes';
import { discardRoutes } from '../routes/discardRoutes';
import { workingRoutes } from '../routes/workingRoutes';
import { takeRoutes } from '../routes/takeRoutes';
import { ledgerRoutes } from '../routes/ledgerRoutes';
import { takeFileRoutes } from '../routes/takeFileRoutes';
import type { Services } from '../services/services';

const bodyLimit = '64kb';

/**
 * The whole server: guards, API, pages.
 * @param keys what opens the interface; null: nothing is needed
 */
export function createApp(services: Services, webFolder: string, keys: Keys | null = null): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: true,
        directives: {
          'worker-src': ["'self'", 'blob:'],
          'script-src': ["'self'"],
          'style-src': ["'self'", "'unsafe-inline'"],
          'connect-src': ["'self'", 'ws://127.0.0.1:*', 'ws://localhost:*'],
          'img-src': ["'self'", 'data:', 'blob:'],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(guard);
  if (keys) app.use('/api', keyNeeded(keys));
  app.use(express.json({ limit: bodyLimit }));
  const routes = [
    ...setupRoutes(services),
    ...recipeRoutes(services),
    ...takeRoutes(services),
    ...ledgerRoutes(services),
    ...takeFileRoutes(services),
    ...discardRoutes(services),
    ...workingRoutes(services),
    ...machineRoutes(services),
    ...driveRoutes(services),
    ...programRoutes(services),
    ...soundRoutes(services),
    ...rollRoutes(services),
    ...hindsightRoutes(services),
    ...markRoutes(services),
    ...gameRoutes(services),
    ...keyRoutes(services),
  ];
  const router = express.Router();
  for (const route of routes) route.mount(router);
  const description = openApiDocument(routes);
  router.get('/openapi.json', (_request, response) => void response.json(description));
  router.use((request) => {
    throw problem(
      'not-found',
      `There is nothing at ${request.method} /api${request.path}. The list of what there is: /api/openapi.json.`,
    );
  });
  app.use('/api', router);
  if (existsSync(webFolder)) {
    app.use(express.static(webFolder, { index: false, maxAge: '1h' }));
    app.use((request, response, next) => {
      if (request.method !== 'GET') return next();
      if (keys) response.setHeader('Set-Cookie', pageCookie(request.headers.host, keys));
      response.setHeader('Cache-Control', 'no-cache');
      response.sendFile('index.html', { root: webFolder, cacheControl: false });
    });
  }
  app.use(answerErrors(services));
  return app;
}

function answerErrors({ log }: Services): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error);
    const answer = problemOf(error);
    if (answer.problem.status >= 500) log.add('error', `${request.method} ${request.path}: ${errorText(error)}`);
    response.status(answer.problem.status).type('application/problem+json').send(JSON.stringify(answer.problem));
  };
}

/** Errors of the server's own libraries in our words; what is not known stays in the log. */
function problemOf(error: unknown): ProblemError {
  if (error instanceof ProblemError) return error;
  const known = error as { type?: string; status?: number; code?: string; message?: string };
  if (known.type === 'entity.too.large')
    return problem('too-large', `A request may have ${bodyLimit}. Nothing was changed.`);
  if (known.type?.startsWith('entity.') || known.type?.startsWith('encoding.') || known.type?.startsWith('charset.'))
    return problem('bad-request', 'The body is no JSON that can be read. Nothing was changed.');
  if (known.status === 416)
    return problem(
      'bad-range',
      'The range asked for is not in the file. Ask for its size first, or for the whole of it.',
    );
  if (known.status === 412)
    return problem('bad-request', 'The condition of the request does not hold; nothing was sent.');
  const code = errorCode(error);
  if (known.code === 'ENOENT') return problem('file-missing', 'The file is not there any more.');
  if (code === 'ENOSPC' || code === 'SQLITE_FULL')
    return problem('data-full', 'The drive of the data folder is full, so this could not be stored. Make room there.');
  if (code === 'SQLITE_BUSY' || code === 'SQLITE_LOCKED')
    return problem(
      'data-busy',
      'Another program works on the database of the application and did not let go of it in time. Nothing was changed; try it again.',
    );
  if (error instanceof URIError || (known.status !== undefined && known.status >= 400 && known.status < 500))
    return problem('bad-request', 'The request cannot be read. Nothing was changed.');
  return problem('internal', 'Something failed here that should not. The log has what it was.');
}
