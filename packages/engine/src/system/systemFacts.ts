import { linuxFacts } from './linuxFacts';
import { otherFacts } from './otherFacts';

export interface ThreadTimes {
  /** On a processor, seconds. */
  runS: number;
  /** Ready to run and waiting for one, seconds; null where the system does not tell. */
  waitS: number | null;
}

/** What a system tells of threads, processor and drives. Null and empty mean: not told here, so it is measured another way or unknown. */
export interface SystemFacts {
  /** The system's number of the calling thread. */
  ownThreadId(): number | null;
  /** Numbers of all threads of this process. */
  threadIds(): number[];
  /** Processor time of some threads of this process together. */
  threadTimes(ids: readonly number[]): ThreadTimes | null;
  /** Processor seconds that another process has used. */
  processS(id: number): number | null;
  /** Seconds all processors were busy since some moment. */
  machineBusyS(): number | null;
  /** Microseconds in which some task waited for a processor. */
  pressureUs(): number | null;
  /** The physical drive a folder lies on. */
  physicalDrive(folder: string): string | null;
  driveKind(folder: string): 'hard disk' | 'solid state' | 'network' | 'unknown';
  /** Most bytes that one file may have there; null: no limit that a take meets, or not told. */
  largestFileBytes(folder: string): number | null;
  /** Displays that are connected, with their largest mode. */
  displays(): { name: string; widthPx: number; heightPx: number; refreshHz: number | null; hdr: boolean }[];
  /** Folders of the system in which nothing may be recorded. */
  systemFolders: readonly string[];
  /** Folders inside those in which removable drives appear. */
  mountFolders: readonly string[];
}

/** One table a system; Windows and macOS are written from their documentation and not tried. */
const tables: Partial<Record<NodeJS.Platform, SystemFacts>> = {
  linux: linuxFacts,
  win32: otherFacts(['C:\\Windows', 'C:\\Program Files', 'C:\\Program Files (x86)', 'C:\\ProgramData']),
  darwin: otherFacts(['/System', '/Library', '/bin', '/sbin', '/usr', '/private/etc', '/private/var/db', '/dev']),
};

export const factsFor = (platform: NodeJS.Platform): SystemFacts => tables[platform] ?? otherFacts([]);

export const systemFacts: SystemFacts = factsFor(process.platform);
