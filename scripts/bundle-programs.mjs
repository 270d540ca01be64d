// Bundles the programs that people start, server and command line: translating 300 files at each start takes seconds.
import { readFileSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = fileURLToPath(new URL('..', import.meta.url));

/** What a file finds beside itself it finds beside itself in the bundle too. */
const ownPlaces = (outfile) => ({
  name: 'own-places',
  setup({ onLoad }) {
    onLoad({ filter: /\/(apps|packages)\/.*\.ts$/ }, ({ path }) => {
      const text = readFileSync(path, 'utf8');
      if (!text.includes('import.meta.url')) return null;
      const place = relative(dirname(resolve(root, outfile)), path).replaceAll('\\', '/');
      return {
        contents: text.replaceAll('import.meta.url', `new URL(${JSON.stringify(place)}, import.meta.url).href`),
        loader: 'ts',
      };
    });
  },
});

const ownPackages = {
  name: 'own-packages',
  setup({ onResolve }) {
    onResolve({ filter: /^@mellow\// }, ({ path }) => ({
      path: resolve(root, 'packages', path.slice('@mellow/'.length), 'src/index.ts'),
      sideEffects: false,
    }));
  },
};

export async function bundlePrograms() {
  for (const app of ['server', 'cli']) {
    const outfile = `apps/${app}/build/main.mjs`;
    await build({
      entryPoints: [`apps/${app}/src/main.ts`],
      outfile,
      bundle: true,
      format: 'esm',
      platform: 'node',
      target: 'node20',
      packages: 'external',
      plugins: [ownPackages, ownPlaces(outfile)],
      logLevel: 'warning',
    });
  }
}
