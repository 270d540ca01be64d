import { join } from 'node:path';
import type { Drive } from '@mellow/model';

/** Room kept back for closing a take lies here, where its drive has no quota. */
export const reservePathOf = ({ folder }: Pick<Drive, 'folder'>, takeId: string): string =>
  join(folder, `.room-${takeId}`);
