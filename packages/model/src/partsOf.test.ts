import { partsOf } from './take';
import type { TakeFile } from './takeFile';

const file = (path: string, change: Partial<TakeFile> = {}): TakeFile => ({
  ...{ role: 'take', path, identity: null, bytes: null },
  ...change,
});
const paths = (...files: TakeFile[]) => partsOf({ files }).map(({ path }) => path);

it('are the files of the take itself, in the order of their time', () => {
  expect(paths(file('a'))).toEqual(['a']);
  expect(paths(file('c', { startUs: 9 }), file('x', { role: 'copy' }), file('a'), file('b', { startUs: 5 }))).toEqual([
    'a',
    'b',
    'c',
  ]);
});

it('a file that was kept elsewhere takes the place of the one that is gone', () => {
  expect(paths(file('gone'), file('kept'))).toEqual(['kept']);
  expect(paths(file('a'), file('gone', { startUs: 5 }), file('kept', { startUs: 5 }))).toEqual(['a', 'kept']);
});

it('are stripes in their order, whatever was moved or kept elsewhere since', () => {
  const stripe = (n: number, path: string): TakeFile => ({ role: 'take', path, identity: null, bytes: 1, stripe: n });
  expect(paths(stripe(2, 'c'), stripe(0, 'a'), stripe(1, 'b'), { ...stripe(0, 'copy'), role: 'copy' })).toEqual([
    'a',
    'b',
    'c',
  ]);
  expect(paths(stripe(0, 'a'), stripe(1, 'gone'), stripe(1, 'kept'))).toEqual(['a', 'kept']);
});
