import os from 'node:os';
import type { SystemFacts } from './systemFacts';

/**
 * Systems whose own figures are not read here: busy time comes from the runtime, everything else is not told. Loads of
 * Encode are then measured by an unpaced encode after the take, or unknown.
 */
export const otherFacts = (systemFolders: readonly string[]): SystemFacts => ({
  ownThreadId: () => null,
  threadIds: () => [],
  threadTimes: () => null,
  processS: () => null,
  machineBusyS: () =>
    os.cpus().reduce((sum, { times }) => sum + times.user + times.nice + times.sys + times.irq, 0) / 1000,
  pressureUs: () => null,
  physicalDrive: () => null,
  driveKind: () => 'unknown',
  largestFileBytes: () => null,
  displays: () => [],
  mountFolders: [],
  systemFolders,
});
