import { appendFileSync, existsSync, readFileSync, renameSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { ledgerNames } from '@mellow/engine';
import { logLineSchema, type LogLine } from '@mellow/model';

/** Events in plain words: those of the application in the data folder, those of a take beside its ledger. */
export interface AppLog {
  /** Never throws: a log that cannot be written ends nothing. */
  add(level: LogLine['level'], text: string, takeFolder?: string): void;
  recent(): LogLine[];
}

const kept = 500;
/** A log file of this size is put aside, one of them; a take's own log just ends. */
const mostBytes = 2_000_000;

export function openAppLog(dataFolder: string): AppLog {
  const file = join(dataFolder, 'log.ndjson');
  const lines: LogLine[] = readLog(file).slice(-kept);
  return {
    add(level, text, takeFolder) {
      const line: LogLine = { at: new Date().toISOString(), level, text };
      lines.push(line);
      if (lines.length > kept) lines.shift();
      quietly(() => {
        if (sizeOf(file) > mostBytes) renameSync(file, join(dataFolder, 'log.1.ndjson'));
        appendFileSync(file, `${JSON.stringify(line)}\n`);
      });
      if (takeFolder)
        quietly(() => {
          const own = join(takeFolder, ledgerNames.log);
          if (existsSync(takeFolder) && sizeOf(own) < mostBytes) appendFileSync(own, `${JSON.stringify(line)}\n`);
        });
    },
    recent: () => lines,
  };
}

function sizeOf(path: string): number {
  return statSync(path, { throwIfNoEntry: false })?.size ?? 0;
}

function quietly(write: () => void): void {
  try {
    write();
  } catch {
    // The drive of the data folder is full or away; the line is still in memory, where the page reads it.
  }
}

/** Lines of a log file; what is no line of a log is left out. */
export function readLog(file: string): LogLine[] {
  if (!existsSync(file)) return [];
  return readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((text) => {
      try {
        return [logLineSchema.parse(JSON.parse(text))];
      } catch {
        return [];
      }
    });
}
