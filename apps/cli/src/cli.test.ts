import type { Setup, Take } from '@mellow/model';
import { CommandError } from './ask';
import { commandNamed, commands, helpText } from './commands';
import { secondsOf } from './lengthText';
import { whichSetup } from './whichSetup';

const setup = (id: string, name: string, demo = false): Setup => ({ id, name, demo }) as Setup;
const take = (setupId: string): Take => ({ setupId }) as Take;
const refused = (act: () => unknown): CommandError => {
  try {
    act();
  } catch (error) {
    if (error instanceof CommandError) return error;
  }
  throw new Error('it was not refused');
};

it('reads lengths as people write them, and no others', () => {
  const lengths = ['90', '90s', '1.5m', '3m', '3min', '2h', '1:30', '1:30:00', '0:05'];
  expect(lengths.map(secondsOf)).toEqual([90, 90, 90, 180, 180, 7200, 90, 5400, 5]);
  for (const text of ['', 'three', '-3', '3 m', '3x', '1:2', '1e9', '٣m'])
    expect(refused(() => secondsOf(text)).exitCode).toBe(2);
});

describe('which setup is meant', () => {
  const setups = [
    setup('a1', 'Long play'),
    setup('b2', 'Long play, light'),
    setup('c3', 'Film'),
    setup('d4', 'Demo', true),
  ];
  it('by id, by name whatever the case, by a part that only one has', () => {
    expect(whichSetup(setups, [], 'c3').id).toBe('c3');
    expect(whichSetup(setups, [], 'long PLAY').id).toBe('a1');
    expect(whichSetup(setups, [], 'light').id).toBe('b2');
  });
  it('asks where two have it, and says which there are', () => {
    expect(refused(() => whichSetup(setups, [], 'long')).message).toContain('a1 (Long play), b2 (Long play, light)');
    expect(refused(() => whichSetup([...setups, setup('e5', 'Film')], [], 'Film')).message).toContain('e5 (Film)');
    expect(refused(() => whichSetup(setups, [], 'nope')).message).toContain('"Film"');
    expect(refused(() => whichSetup([], [], undefined)).message).toContain('none yet');
  });
  it('without a word is the one used last, or the only one, never a demo', () => {
    expect(whichSetup(setups, [take('d4'), take('b2'), take('a1')], undefined).id).toBe('b2');
    expect(whichSetup([setup('a1', 'A'), setup('d4', 'Demo', true)], [], undefined).id).toBe('a1');
    expect(refused(() => whichSetup(setups, [], undefined)).exitCode).toBe(2);
  });
});

it('tells of every command in its help, and refuses others', () => {
  for (const { usage, about } of Object.values(commands)) {
    expect(helpText).toContain(usage);
    expect(helpText).toContain(about);
  }
  expect(refused(() => commandNamed('rol')).exitCode).toBe(2);
  expect(refused(() => commandNamed('constructor')).exitCode).toBe(2);
});
