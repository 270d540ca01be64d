import { existsSync } from 'node:fs';
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import { errorText } from '@mellow/core';
import { showsToken } from './accessToken';
import { askedAsLocal, askedFromHere } from './fromHere';
import { openApiDocument } from './openapi';
import { problem, ProblemError } from './problem';
import { keyRoutes } from '../routes/keyRoutes';
import { machineRoutes } from '../routes/machineRoutes';
import { rollRoutes } from '../routes/rollRoutes';
import { setupRoutes } from '../routes/setupRoutes';
import { soundRoutes } from '../routes/soundRoutes';
import { discardRoutes } from '../routes/discardRoutes';
import { workingRoutes } from '../routes/workingRoutes';
import { takeRoutes } from '../routes/takeRoutes';
import type { Services } from '../services/services';

const bodyLimit = '64kb';

/**
 * The whole server: guards, API, pages.
 * @param token what programs that are no page have to show before they change anything; null: they need nothing
 */
export function createApp(services: Services, webFolder: string, token: string | null = null): Express {
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
  app.use(localOnly);
  if (token !== null) app.use(knownPrograms(token));
  app.use(express.json({ limit: bodyLimit }));
  const routes = [
    ...setupRoutes(services),
    ...takeRoutes(services),
    ...discardRoutes(services),
    ...workingRoutes(services),
    ...machineRoutes(services),
    ...soundRoutes(services),
    ...rollRoutes(services),
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
      if (request.method !== 'GET') next();
      else response.sendFile('index.html', { root: webFolder });
    });
  }
  app.use(answerErrors(services));
  return app;
}

/**
 * Pages from elsewhere must not reach the recorder, those of other programs on this PC neither: Host has to be this PC,
 * Origin the very address that was asked, and where the browser says where a request comes from, it has to be here.
 */
const localOnly: RequestHandler = (request, _response, next) => {
  const { host, origin } = request.headers;
  if (!askedAsLocal(host))
    throw problem(
      'foreign-origin',
      `Asked for as "${host ?? ''}". The application answers on 127.0.0.1 and localhost only.`,
    );
  const foreign = !askedFromHere(request.headers);
  const site = request.headers['sec-fetch-site'];
  const fromElsewhere = site === 'cross-site' || site === 'same-site';
  const follows = request.method === 'GET' && request.headers['sec-fetch-mode'] === 'navigate';
  if (foreign || (fromElsewhere && !follows))
    throw problem(
      'foreign-origin',
      `A page of ${origin ?? 'another place'} asked. Other pages may not use the recorder; nothing was done.`,
    );
  next();
};

/** Pages say where they come from with whatever changes something; any other program has to know the data folder's token. */
const knownPrograms =
  (token: string): RequestHandler =>
  (request, _response, next) => {
    const { origin, authorization } = request.headers;
    if (
      request.method !== 'GET' &&
      request.method !== 'HEAD' &&
      origin === undefined &&
      !showsToken(authorization, token)
    )
      throw problem(
        'unknown-program',
        'A program asked without the token of the data folder ("Authorization: Bearer ..."; it stands in access.json there). Nothing was done.',
      );
    next();
  };

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
  if (known.code === 'ENOENT') return problem('file-missing', 'The file is not there any more.');
  if (known.code === 'ENOSPC' || /SQLITE_FULL|disk is full/.test(known.message ?? ''))
    return problem('data-full', 'The drive of the data folder is full, so this could not be stored. Make room there.');
  if (error instanceof URIError || (known.status !== undefined && known.status >= 400 && known.status < 500))
    return problem('bad-request', 'The request cannot be read. Nothing was changed.');
  return problem('internal', 'Something failed here that should not. The log has what it was.');
}
