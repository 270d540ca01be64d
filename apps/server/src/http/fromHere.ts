import type { IncomingHttpHeaders } from 'node:http';

const localHost = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** The application was asked for by a name of this PC. */
export const askedAsLocal = (host: string | undefined): boolean => host !== undefined && localHost.test(host);

/** A page of the application itself asks, or a program on this PC that is no page. */
export const askedFromHere = ({ host, origin }: IncomingHttpHeaders): boolean =>
  askedAsLocal(host) && (origin === undefined || origin === `http://${host}`);
