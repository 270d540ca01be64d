// Asks the API 5 000 times at random: npm run fuzz, or FUZZ_REQUESTS=20000 FUZZ_SEED=7 npm run fuzz.
import { spawnSync } from 'node:child_process';

const env = { FUZZ_REQUESTS: '5000', FUZZ_SEED: String(Date.now() % 1_000_000_000), ...process.env };
console.log(`${env.FUZZ_REQUESTS} requests, seed ${env.FUZZ_SEED}`);
const args = [
  'node_modules/jest/bin/jest.js',
  '--selectProjects',
  'integration',
  '--testPathPatterns',
  'server/test/fuzz',
];
process.exit(spawnSync(process.execPath, args, { stdio: 'inherit', env }).status ?? 1);
