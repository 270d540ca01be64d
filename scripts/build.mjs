// Builds what start and test need: the engine's bundles, the programs and the page.
import { execFileSync } from 'node:child_process';
import { bundleEngine } from './bundle-engine.mjs';
import { bundlePrograms } from './bundle-programs.mjs';

await bundleEngine();
await bundlePrograms();
execFileSync(
  process.execPath,
  ['node_modules/vite/bin/vite.js', 'build', '--config', 'apps/web/vite.config.ts', '--logLevel', 'warn'],
  // Whoever asks for it: a build under a test's environment would be the slow one for developers.
  { stdio: 'inherit', env: { ...process.env, NODE_ENV: 'production' } },
);
