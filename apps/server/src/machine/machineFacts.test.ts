import { clockOf } from './machineFacts';

describe('the clock of a processor', () => {
  it.each([
    [{ model: 'Some Maker(R) Processor @ 2.50GHz', speed: 0 }, '2.5 GHz'],
    [{ model: 'Some Maker 9000X', speed: 3693 }, '3.7 GHz'],
    [{ model: 'Some Maker 9000X', speed: 0 }, 'clock unknown'],
    [undefined, 'clock unknown'],
  ])('%j is %s', (cpu, words) => expect(clockOf(cpu)).toBe(words));
});
