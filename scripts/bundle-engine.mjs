// Bundles the engine: one file for the recorder, one for jobs, one for each thread.
import { build } from 'esbuild';

const threads = [
  'game',
  'grab',
  'play',
  'camera',
  'helper',
  'sound',
  'hear',
  'deviceSound',
  'picker',
  'size',
  'encode',
  'pack',
  'drive',
  'stripe',
  'keep',
];
const folder = 'packages/engine/';

/** One file for each entry, beside the engine's own; the FFmpeg binding stays outside. */
export async function bundle(entryPoints) {
  await build({
    entryPoints,
    outdir: `${folder}build`,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    external: ['node-av', 'node-av/*', 'uiohook-napi'],
    banner: {
      js: "import { createRequire as createRequireOfBundle } from 'node:module'; const require = createRequireOfBundle(import.meta.url);",
    },
    logLevel: 'warning',
  });
}

export const bundleEngine = () =>
  bundle({
    main: `${folder}src/process/main.ts`,
    job: `${folder}src/process/job.ts`,
    jobWork: `${folder}src/process/jobWork.ts`,
    keys: `${folder}src/process/keys.ts`,
    listen: `${folder}src/process/listen.ts`,
    ...Object.fromEntries(threads.map((name) => [name, `${folder}src/threads/${name}.ts`])),
  });
