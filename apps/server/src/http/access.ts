import { randomBytes, timingSafeEqual } from 'node:crypto';
import { closeSync, existsSync, fchmodSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import type { IncomingHttpHeaders, IncomingMessage } from 'node:http';
import { join } from 'node:path';
import type { RequestHandler } from 'express';
import { writeDurably } from '@mellow/engine';
import { accessFileName, type Access } from '@mellow/model';
import { problem, type ProblemError } from '../errors/problem';
import { askedAsLocal, askedFromHere } from './fromHere';
import { isOwnUser, peerUser } from './peerUser';

/** What opens the interface (docs/security.md). */
export interface Keys {
  /** For programs, of this run: it stands in access.json of the data folder. */
  token: string;
  /** For the page, as a cookie; it outlives a start, so that a page that is open goes on. */
  page: string;
}

const ownerOnly = 0o600;
const pageKeyFile = 'page-key';

const newKey = (): string => randomBytes(32).toString('base64url');

/** Keys of a run. @param dataFolder where the page's is kept, for its owner only */
export function openKeys(dataFolder: string): Keys {
  const path = join(dataFolder, pageKeyFile);
  const known = existsSync(path) ? readFileSync(path, 'utf8').trim() : '';
  const page = /^[\w-]{43}$/.test(known) ? known : newKey();
  if (page !== known) {
    rmSync(path, { force: true });
    writeForOwner(path, page);
  }
  return { token: newKey(), page };
}

/** A new file that nobody else can read at any moment. */
function writeForOwner(path: string, text: string): void {
  const handle = openSync(path, 'wx', ownerOnly);
  try {
    // A system may have given more than was asked for; systems without such rights keep a person's folders apart by other means.
    fchmodSync(handle, ownerOnly);
    writeSync(handle, text);
  } finally {
    closeSync(handle);
  }
}

/** Leaves address and token in the data folder, for its owner only. @returns the way to take them away */
export function leaveAccess(dataFolder: string, access: Access): () => void {
  const path = join(dataFolder, accessFileName);
  writeDurably(path, JSON.stringify(access), ownerOnly);
  return () => rmSync(path, { force: true });
}

const equal = (shown: string, wanted: string): boolean => {
  const [a, b] = [Buffer.from(shown), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
};

/** Cookies know no ports: each of several programs on this PC has a name of its own. */
const cookieName = (host: string | undefined): string => `mellow-${/:(\d+)$/.exec(host ?? '')?.[1] ?? '80'}`;

/** Whether a request shows the token ("Authorization: Bearer ...", RFC 6750) or the page's cookie (RFC 6265). */
export function showsKey({ authorization, cookie, host }: IncomingHttpHeaders, keys: Keys): boolean {
  const bearer = /^Bearer (\S+)$/.exec(authorization ?? '')?.[1];
  if (bearer !== undefined) return equal(bearer, keys.token);
  const name = `${cookieName(host)}=`;
  const shown = (cookie ?? '').split(/;\s*/).find((one) => one.startsWith(name));
  return shown !== undefined && equal(shown.slice(name.length), keys.page);
}

/** What gives the page its key: no script reads it, and no other page's request carries it along. */
export const pageCookie = (host: string | undefined, keys: Keys): string =>
  `${cookieName(host)}=${keys.page}; Path=/; HttpOnly; SameSite=Strict; Max-Age=34560000`;

/**
 * Why a request is not answered; null where it is. Host has to be this PC, Origin the very address that was asked, what the browser
 * says of where it comes from has to be here, and the program has to be of the same user where the system tells.
 */
export function refusalOf(request: IncomingMessage): ProblemError | null {
  const { host, origin } = request.headers;
  if (!askedAsLocal(host))
    return problem(
      'foreign-origin',
      `Asked for as "${host ?? ''}". The application answers on 127.0.0.1 and localhost only.`,
    );
  const site = request.headers['sec-fetch-site'];
  const fromElsewhere = site === 'cross-site' || site === 'same-site';
  const follows = request.method === 'GET' && request.headers['sec-fetch-mode'] === 'navigate';
  if (!askedFromHere(request.headers) || (fromElsewhere && !follows))
    return problem(
      'foreign-origin',
      `A page of ${origin ?? 'another place'} asked. Other pages may not use the recorder; nothing was done.`,
    );
  if (!isOwnUser(userOf(request)))
    return problem(
      'other-user',
      'A program of another user of this PC asked. Only the one who started the application may use it; nothing was done.',
    );
  return null;
}

/** Looked for once for each connection. */
const users = new WeakMap<object, number | null>();
function userOf({ socket }: IncomingMessage): number | null {
  const known = users.get(socket);
  if (known !== undefined) return known;
  const user = peerUser(socket);
  users.set(socket, user);
  return user;
}

export const guard: RequestHandler = (request, _response, next) => {
  const refusal = refusalOf(request);
  if (refusal) throw refusal;
  next();
};

/** Everything of the interface needs a key. */
export const keyNeeded =
  (keys: Keys): RequestHandler =>
  (request, _response, next) => {
    if (!showsKey(request.headers, keys))
      throw problem(
        'unknown-program',
        'Who asks is not known. Open the page of the application anew; a program shows the token of the data folder ("Authorization: Bearer ..."; it stands in access.json there). Nothing was done.',
      );
    next();
  };
