import { capitalised, takeName } from '@mellow/core';
import type { Take } from '@mellow/model';
import type { DriveService } from '../drives/drives';
import type { JobService } from '../files/jobs';
import type { AppLog } from '../program/appLog';
import type { Folders } from '../program/folders';
import type { LiveHub } from '../program/liveHub';
import type { TakeService } from '../takes/takes';

export interface AfterTakeServices {
  drives: Pick<DriveService, 'list' | 'get'>;
  folders: Folders;
  log: AppLog;
  live: LiveHub;
  takes: TakeService;
  jobs: JobService;
}

/** A take at the beginning of a sentence. */
export const nameOf = (take: Take): string => capitalised(takeName(take));
