// Tries every property with other values, and asks the API 5 000 times at random: npm run fuzz, or
// FUZZ_REQUESTS=20000 FUZZ_SEED=7 npm run fuzz to repeat a run.
import { spawnSync } from 'node:child_process';

const env = { FUZZ_REQUESTS: '5000', FUZZ_SEED: String(Date.now() % 1_000_000_000), ...process.env };
console.log(`${env.FUZZ_REQUESTS} requests, seed ${env.FUZZ_SEED}`);
const runs = [
  ['--selectProjects', 'node'],
  ['--selectProjects', 'integration', '--testPathPatterns', 'server/test/fuzz'],
].map((args) => spawnSync(process.execPath, ['node_modules/jest/bin/jest.js', ...args], { stdio: 'inherit', env }));
process.exit(runs.every(({ status }) => status === 0) ? 0 : 1);
