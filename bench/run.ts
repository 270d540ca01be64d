import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { benchDrawing } from './drawing';
import { benchForecast } from './forecast';
import type { BenchResult } from './measure';
import { benchPipeline } from './pipeline';
import { benchProgram } from './program';

/** Measures, prints a table and writes bench/results.json. Ratios are taken within one run: machines differ. */
const folder = mkdtempSync(join(tmpdir(), 'mellow-bench-'));
const results: BenchResult[] = [];
try {
  results.push(...benchDrawing());
  results.push(...benchForecast());
  results.push(...(await benchPipeline(folder)));
  results.push(...(await benchProgram(folder)));
} finally {
  rmSync(folder, { recursive: true, force: true });
}
for (const { name, value, unit, goal, holds } of results) {
  console.log(
    `${name.padEnd(64)} ${value.toFixed(3).padStart(10)} ${unit.padEnd(14)} ${goal ?? ''} ${holds === null ? '' : holds ? 'holds' : 'DOES NOT HOLD'}`,
  );
}
writeFileSync(fileURLToPath(new URL('./results.json', import.meta.url)), `${JSON.stringify(results, null, 1)}\n`);
process.exit(0);
