// Runs the long matrices of files and kills, and ends with one line of counts; with --soak all of each of them, which takes hours. Two groups run beside each other, since one
// waits most of the time and the other has no clock; what is held to the clock has the machine for itself afterwards.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { jestFailures } from './failures.mjs';

mkdirSync('test-results', { recursive: true });

/** Runs one group, one file after the other: recorders that are killed at a moment hinder each other. */
function group(name, args) {
  const report = `test-results/matrix-${name}.json`;
  rmSync(report, { force: true });
  const jest = ['node_modules/jest/bin/jest.js', '--selectProjects', 'matrix', '--runInBand', '--forceExit', '--json'];
  return new Promise((resolve) => {
    const started = Date.now();
    const child = spawn(process.execPath, [...jest, `--outputFile=${report}`, '--passWithNoTests', ...args], {
      stdio: ['inherit', 'ignore', 'inherit'],
    });
    child.on('close', (status) => {
      const found = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
      const failed = found ? found.numFailedTests + found.numRuntimeErrorTestSuites : 1;
      const counts = { passed: found?.numPassedTests ?? 0, failed: status !== 0 && failed === 0 ? 1 : failed };
      const seconds = ((Date.now() - started) / 1000).toFixed(0);
      console.log(
        `${counts.failed ? 'FAIL' : 'ok  '} ${name}: ${counts.passed} passed, ${counts.failed} failed (${seconds} s)`,
      );
      const told = found ? jestFailures(found) : [];
      resolve({ ...counts, fell: counts.failed && told.length === 0 ? [`${name}: ended with ${status}`] : told });
    });
  });
}

const onTheClock = [
  'screen',
  'sound',
  'heardSounds',
  'hindsight',
  'camera',
  'driveTest',
  'samples',
  'plainMp4',
  'gameInStep',
  'faultTable',
];
const clocked = `engine/matrix/(${onTheClock.join('|')})\\.matrix`;
const likeness = 'engine/matrix/likeness\\.matrix';
const asked = process.argv.slice(2).filter((word) => word !== '--soak');
if (process.argv.includes('--soak')) process.env.MELLOW_SOAK = '1';
const results = asked.length
  ? [await group('asked', asked)]
  : [
      ...(await Promise.all([
        // Likeness is no kill: it stands here so that both take about as long.
        group('kills', ['--testPathPatterns', `server/matrix|${likeness}`]),
        group('files', ['--testPathPatterns', 'engine/matrix', '--testPathIgnorePatterns', `${clocked}|${likeness}`]),
      ])),
      await group('clocked', ['--testPathPatterns', clocked]),
    ];
const [passed, failed] = ['passed', 'failed'].map((key) => results.reduce((sum, counts) => sum + counts[key], 0));
for (const line of results.flatMap(({ fell }) => fell)) console.log(`fell: ${line}`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
