import { fileURLToPath } from 'node:url';
import all from '../../jest.config.mjs';

// What mutants are judged by: the tests of the "node" project, without the pages and without the takes of the real
// recorder, whose processes are started from bundles in which no mutant is.
const units = all.projects.find((project) => project.displayName === 'node');

export default { ...units, rootDir: fileURLToPath(new URL('../../', import.meta.url)), testTimeout: 20_000 };
