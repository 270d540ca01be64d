import { createDisposer, opening } from './disposer';

it('gives everything back once, the last first, whatever one of them refuses with', () => {
  const freed: string[] = [];
  const troubles: unknown[] = [];
  const { owns, dispose } = createDisposer((error) => troubles.push(error));
  const refusal = new Error('no');
  owns('a', (name) => freed.push(name));
  owns('b', () => {
    throw refusal;
  });
  expect(owns('c', (name) => freed.push(name))).toBe('c');
  dispose();
  dispose();
  expect(freed).toEqual(['c', 'a']);
  expect(troubles).toEqual([refusal]);
});

it('gives back what was opened where opening the rest throws, and leaves it to whoever has it otherwise', () => {
  const freed: string[] = [];
  const own = (name: string) => [name, (one: string) => freed.push(one)] as const;
  const refused = () =>
    opening((owns) => {
      owns(...own('file'));
      throw new Error('no');
    });
  expect(refused).toThrow('no');
  expect(freed).toEqual(['file']);
  const { free } = opening((owns, dispose) => ({ file: owns(...own('other')), free: dispose }));
  expect(freed).toEqual(['file']);
  free();
  free();
  expect(freed).toEqual(['file', 'other']);
});
