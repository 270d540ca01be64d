// Runs every check and test, and ends with one line of counts. Each check of types, lint and layers counts as one.
import { spawnSync } from 'node:child_process';
import { resolve } from 'node:path';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { jestFailures, playwrightFailures } from './failures.mjs';

mkdirSync('test-results', { recursive: true });
let passed = 0;
let failed = 0;
const fell = [];

function check(name, command, args) {
  const started = Date.now();
  const { status } = spawnSync(command, args, { stdio: 'inherit' });
  console.log(`${status === 0 ? 'ok  ' : 'FAIL'} ${name} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
  if (status === 0) passed++;
  else {
    failed++;
    fell.push(name);
  }
}

function suite(name, command, args, report, count, failures) {
  rmSync(report, { force: true });
  const started = Date.now();
  const { status } = spawnSync(command, args, { stdio: 'inherit' });
  const found = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
  const counts = found ? count(found) : { passed: 0, failed: 1 };
  if (status !== 0 && counts.failed === 0) counts.failed = 1;
  const told = found ? failures(found) : [];
  fell.push(...(counts.failed && told.length === 0 ? [`${name}: ended with ${status}`] : told));
  passed += counts.passed;
  failed += counts.failed;
  console.log(
    `${counts.failed === 0 ? 'ok  ' : 'FAIL'} ${name}: ${counts.passed} passed, ${counts.failed} failed (${((Date.now() - started) / 1000).toFixed(1)} s)`,
  );
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

check('types', node, ['node_modules/typescript-native/bin/tsc', '-b']);
check('types of the tests', node, ['node_modules/typescript-native/bin/tsc', '-p', 'tsconfig.tests.json']);
check('format', node, ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.']);
check('lint', node, ['node_modules/eslint/bin/eslint.js', '.']);
check('layers', node, [
  'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
  '--config',
  '.dependency-cruiser.cjs',
  'packages',
  'apps',
  'demo',
  'bench',
]);
check('kernels are what their source compiles to', node, ['scripts/build-kernels.mjs', '--check']);
suite(
  'unit',
  node,
  [...jest, '--selectProjects', 'node', 'web', '--maxWorkers=2', '--outputFile=test-results/unit.json'],
  'test-results/unit.json',
  jestCount,
  jestFailures,
);
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
for (const line of fell) console.log(`fell: ${line}`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
