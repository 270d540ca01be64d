import { setFlagsFromString } from 'node:v8';

/**
 * What runs once a frame takes microseconds and is not worth optimising: the runtime would spend half a second of processor on
 * it in the first half minute of each take, in all threads together (240 functions, 2 % of two cores at 1280x720, measured;
 * see `npm run bench -- pipeline`). With twenty times its usual budget only loops over pixels and samples are optimised, some
 * milliseconds later. A runtime that does not know the flag goes on as usual.
 */
export function compileLess(): void {
  setFlagsFromString('--interrupt-budget=1350000');
}
