// Runs the long matrices of files and kills, and ends with one line of counts.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';

const report = 'test-results/matrix.json';
mkdirSync('test-results', { recursive: true });
rmSync(report, { force: true });
const args = [
  'node_modules/jest/bin/jest.js',
  '--selectProjects',
  'matrix',
  // One after the other: recorders that are killed at a moment need the machine for themselves.
  '--runInBand',
  '--forceExit',
  '--json',
  `--outputFile=${report}`,
];
const { status } = spawnSync(process.execPath, [...args, ...process.argv.slice(2)], {
  stdio: ['inherit', 'ignore', 'inherit'],
});
const found = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
const passed = found?.numPassedTests ?? 0;
const failed = found ? found.numFailedTests + found.numRuntimeErrorTestSuites : 1;
console.log(`${passed} passed, ${status !== 0 && failed === 0 ? 1 : failed} failed`);
process.exit(status ?? 1);
