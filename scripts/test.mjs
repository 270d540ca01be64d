// Runs every check and test, and ends with one line of counts. Each check of types, lint and layers counts as one.
import { spawn, spawnSync } from 'node:child_process';
import { relative, resolve } from 'node:path';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { jestFailures, playwrightFailures } from './failures.mjs';

mkdirSync('test-results', { recursive: true });
let passed = 0;
let failed = 0;
const fell = [];
/** Nobody can cut what is not measured. */
const longest = [];
const longestShown = 8;

/** One after the other; what a check prints is shown when it has ended, since others run beside it. */
async function checks(...all) {
  for (const [name, ...args] of all) {
    const started = Date.now();
    const { status, output } = await new Promise((resolve) => {
      const child = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'pipe'] });
      let text = '';
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (text += chunk));
      child.on('close', (code) => resolve({ status: code, output: text }));
    });
    if (status !== 0) console.log(output);
    console.log(`${status === 0 ? 'ok  ' : 'FAIL'} ${name} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
    if (status === 0) passed++;
    else {
      failed++;
      fell.push(name);
    }
  }
}

function suite(name, command, args, report, count, failures) {
  rmSync(report, { force: true });
  const started = Date.now();
  const { status } = spawnSync(command, args, { stdio: 'inherit' });
  const found = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
  const counts = found ? count(found) : { passed: 0, failed: 1 };
  if (status !== 0 && counts.failed === 0) counts.failed = 1;
  longest.push(...durations(name, found));
  const told = found ? failures(found) : [];
  fell.push(...(counts.failed && told.length === 0 ? [`${name}: ended with ${status}`] : told));
  passed += counts.passed;
  failed += counts.failed;
  console.log(
    `${counts.failed === 0 ? 'ok  ' : 'FAIL'} ${name}: ${counts.passed} passed, ${counts.failed} failed (${((Date.now() - started) / 1000).toFixed(1)} s)`,
  );
}

/** The files of a suite that took longest. */
function durations(name, found) {
  return (found?.testResults ?? [])
    .map(({ name: path, startTime, endTime }) => ({
      path: relative(process.cwd(), path),
      s: (endTime - startTime) / 1000,
    }))
    .sort((a, b) => b.s - a.s)
    .slice(0, longestShown)
    .map(({ path, s }) => `longest of ${name}: ${s.toFixed(0)} s ${path}`);
}

const node = process.execPath;
const jest = ['node_modules/jest/bin/jest.js', '--json'];
const jestCount = (report) => ({
  passed: report.numPassedTests,
  failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
});
const playwrightCount = (report) => ({
  passed: report.stats.expected,
  failed: report.stats.unexpected + report.stats.flaky + report.errors.length,
});

const tsc = 'node_modules/typescript-native/bin/tsc';
// Two at a time: each works with one core most of the time. The types of the tests stand on those of what they test.
await Promise.all([
  checks(
    ['types', tsc, '-b'],
    ['types of the tests', tsc, '-p', 'tsconfig.tests.json'],
    [
      'layers',
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      ...['--config', '.dependency-cruiser.cjs', 'packages', 'apps', 'demo', 'bench'],
    ],
    [
      'no circles of folders',
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      ...['--config', '.dependency-cruiser.folders.cjs', 'packages/core/src', 'packages/engine/src'],
      ...['packages/practice/src', 'apps/server/src'],
    ],
    ['kernels are what their source compiles to', 'scripts/build-kernels.mjs', '--check'],
  ),
  checks(
    ['lint', 'node_modules/eslint/bin/eslint.js', '.'],
    ['format', 'node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'],
  ),
]);
suite(
  'unit',
  node,
  [...jest, '--selectProjects', 'node', 'web', '--maxWorkers=2', '--outputFile=test-results/unit.json'],
  'test-results/unit.json',
  jestCount,
  jestFailures,
);
// The others record from an X display and a sound system of their own, and hold files against Debian's tools.
if (process.platform !== 'linux') {
  console.log('Not run: integration and end to end, which need Linux. Types, lint, layers and units were.');
  finish();
}
// Three at a time: they wait for states and hold to identities, whatever else the processor does.
suite(
  'integration',
  node,
  [...jest, '--selectProjects', 'integration', '--maxWorkers=3', '--outputFile=test-results/integration.json'],
  'test-results/integration.json',
  jestCount,
  jestFailures,
);
process.env.PLAYWRIGHT_JSON_OUTPUT_NAME = resolve('test-results/e2e.json');
suite(
  'end to end',
  node,
  ['node_modules/@playwright/test/cli.js', 'test', '-c', 'e2e/playwright.config.ts'],
  'test-results/e2e.json',
  playwrightCount,
  playwrightFailures,
);
finish();

function finish() {
  for (const line of longest) console.log(line);
  for (const line of fell) console.log(`fell: ${line}`);
  console.log(`${passed} passed, ${failed} failed`);
  process.exit(failed ? 1 : 0);
}
