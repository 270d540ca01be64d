import { askRecorder, lastBeatMs, readHeader } from '@mellow/engine';
import type { LedgerHeader, Take } from '@mellow/model';
import type { AppLog } from '../program/appLog';

/** Whether a recorder without its server still closes this take; one that is there and does not answer is ended. */
export async function closesAlone(take: Take, folder: string, hangMs: number, log: AppLog): Promise<boolean> {
  const header = headerOrNull(folder);
  if (!header) return false;
  const sign = await askRecorder(header.engineSocket, take.id);
  if (sign !== 'silent') return sign === 'answers';
  const beatMs = lastBeatMs(folder);
  if (beatMs !== null && Date.now() - beatMs < hangMs) return true;
  log.add('warn', `The recorder of trial ${take.number} is there and does not answer; it was ended.`, folder);
  endProcess(header.enginePid);
  return false;
}

function headerOrNull(folder: string): LedgerHeader | null {
  try {
    return readHeader(folder);
  } catch {
    return null;
  }
}

/** Ends a process that holds its address and answers nobody; gone already is as good. */
function endProcess(pid: number): void {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It has just ended.
  }
}
