import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ledgerNames } from '@mellow/engine';
import { logLineSchema, type LogLine } from '@mellow/model';

/** Events in plain words: those of the application in the data folder, those of a take beside its ledger. */
export interface AppLog {
  add(level: LogLine['level'], text: string, takeFolder?: string): void;
  recent(): LogLine[];
}

const kept = 500;

export function openAppLog(dataFolder: string): AppLog {
  const file = join(dataFolder, 'log.ndjson');
  const lines: LogLine[] = readLog(file).slice(-kept);
  return {
    add(level, text, takeFolder) {
      const line: LogLine = { at: new Date().toISOString(), level, text };
      lines.push(line);
      if (lines.length > kept) lines.shift();
      appendFileSync(file, `${JSON.stringify(line)}\n`);
      if (takeFolder && existsSync(takeFolder))
        appendFileSync(join(takeFolder, ledgerNames.log), `${JSON.stringify(line)}\n`);
    },
    recent: () => lines,
  };
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
