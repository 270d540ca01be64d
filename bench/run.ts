import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { bundled } from './bundle';
import { benchCoverage } from './coverage/run';
import { benchDrawing } from './drawing';
import { benchDrive } from './drive';
import type { BenchResult } from './measure';
import { benchPipeline } from './pipeline';
import { benchProgram } from './program';
import { benchHindsight } from './hindsight';
import { benchRolling } from './rolling';
import { benchScreen } from './screen';
import { benchWriter } from './writer';

/**
 * Measures, prints a table and writes bench/results.json; `npm run bench -- program forecast` runs only those, and
 * writes nothing. Ratios are taken within one run: machines differ.
 */
const folder = mkdtempSync(join(tmpdir(), 'mellow-bench-'));
const benches: Record<string, () => BenchResult[] | Promise<BenchResult[]>> = {
  drawing: benchDrawing,
  drive: () => benchDrive(folder),
  forecast: asThePageRunsIt,
  pipeline: () => benchPipeline(folder),
  program: () => benchProgram(folder),
  screen: benchScreen,
  hindsight: () => benchHindsight(folder),
  writer: () => benchWriter(folder),
  rolling: benchRolling,
  coverage: () => benchCoverage(folder),
};

const asked = process.argv.slice(2);
const unknown = asked.filter((name) => !(name in benches));
if (unknown.length) {
  console.error(`There is no bench ${unknown.join(', ')}: choose from ${Object.keys(benches).join(', ')}.`);
  process.exit(2);
}

const results: BenchResult[] = [];
let failed = false;
for (const [name, bench] of Object.entries(benches)) {
  if (asked.length && !asked.includes(name)) continue;
  try {
    const measured = await bench();
    results.push(...measured);
    measured.forEach(print);
  } catch (error) {
    // One bench that fails takes no other's figures away.
    failed = true;
    console.error(`The bench ${name} failed:`, error);
  }
}
rmSync(folder, { recursive: true, force: true });

// Part of the figures is no result of a machine: only a whole run is kept.
if (!asked.length && !failed)
  writeFileSync(fileURLToPath(new URL('./results.json', import.meta.url)), `${JSON.stringify(results, null, 1)}\n`);
process.exit(failed ? 1 : 0);

/** The page's workers run the forecast from a bundle: measured there, and not as a loader for tests leaves it. */
async function asThePageRunsIt(): Promise<BenchResult[]> {
  const { benchForecast } = (await import(await bundled('forecast'))) as typeof import('./forecast');
  return benchForecast();
}

function print({ name, value, unit, goal, holds }: BenchResult): void {
  console.log(
    `${name.padEnd(64)} ${value.toFixed(3).padStart(10)} ${unit.padEnd(14)} ${goal ?? ''} ${holds === null ? '' : holds ? 'holds' : 'DOES NOT HOLD'}`,
  );
}
