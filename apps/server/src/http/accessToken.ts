import { randomBytes, timingSafeEqual } from 'node:crypto';
import { chmodSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { writeDurably } from '@mellow/engine';
import { accessFileName, type Access } from '@mellow/model';

/** A token for this run; programs find it in the data folder, which other people of the PC cannot read. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** Leaves address and token in the data folder, for its owner only. @returns the way to take them away */
export function leaveAccess(dataFolder: string, access: Access): () => void {
  const path = join(dataFolder, accessFileName);
  writeDurably(path, JSON.stringify(access));
  // Systems without such rights keep a person's folders apart by other means.
  chmodSync(path, 0o600);
  return () => rmSync(path, { force: true });
}

/** Whether a header "Authorization: Bearer ..." (RFC 6750) shows the token. */
export function showsToken(authorization: string | undefined, token: string): boolean {
  const shown = Buffer.from(/^Bearer (\S+)$/.exec(authorization ?? '')?.[1] ?? '');
  const wanted = Buffer.from(token);
  return shown.length === wanted.length && timingSafeEqual(shown, wanted);
}
