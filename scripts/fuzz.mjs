// Tries every property with other values, and all that comes from outside at random: requests, connections, media files:
// npm run fuzz, or FUZZ_REQUESTS=20000 FUZZ_SEED=7 npm run fuzz to repeat a run. The media files take most of an hour.
import { spawnSync } from 'node:child_process';

const env = {
  FUZZ_REQUESTS: '10000',
  FUZZ_SOCKETS: '5000',
  FUZZ_MEDIA: '1000',
  FUZZ_SEED: String(Date.now() % 1_000_000_000),
  ...process.env,
};
console.log(
  `${env.FUZZ_REQUESTS} requests, ${env.FUZZ_SOCKETS} connections, ${env.FUZZ_MEDIA} media files, seed ${env.FUZZ_SEED}`,
);
const runs = [
  ['--selectProjects', 'node'],
  ['--selectProjects', 'integration', '--runInBand', '--testPathPatterns', '(fuzz|Fuzz)\\.test'],
].map((args) => spawnSync(process.execPath, ['node_modules/jest/bin/jest.js', ...args], { stdio: 'inherit', env }));
process.exit(runs.every(({ status }) => status === 0) ? 0 : 1);
