import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { printRows, recordCases } from '../coverage/run';
import { trialCases } from './trialCases';

/** Records the trials that the forecast is fitted on, and keeps each take with the machine's sheet. npm run fit:trials -- <file> */
const out = process.argv[2];
if (!out) throw new Error('Say where to write: npm run fit:trials -- <file>');
const folder = mkdtempSync(join(tmpdir(), 'mellow-fit-'));
const lines: string[] = [];
try {
  const rows = await recordCases(folder, trialCases, 9100, (one, take, machine) =>
    lines.push(
      JSON.stringify({ case: one, machine, take: { ...take, verdict: null, files: [], filePath: '', fileName: '' } }),
    ),
  );
  printRows(rows);
  writeFileSync(out, `${lines.join('\n')}\n`);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
process.exit(0);
