#!/usr/bin/env node
// npx mellow: the command line, as npm start has built it.
import { existsSync } from 'node:fs';

const built = new URL('../build/main.mjs', import.meta.url);
if (!existsSync(built)) {
  console.error(
    'Mellow Frame has not been built in this folder yet. Run npm start once; it builds the command line too.',
  );
  process.exit(1);
}
await import(built.href);
