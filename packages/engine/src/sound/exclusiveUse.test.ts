import { constants } from 'node:os';
import { getSystemErrorMap } from 'node:util';
import { whyNotHeard } from './exclusiveUse';

/** As this system words an error number. */
const worded = (errno: number): string => getSystemErrorMap().get(-errno)?.join(': ') ?? '';

it.each([
  ['linux', `Stream error: ${worded(constants.errno.EBUSY)}`, /sound service instead/],
  ['linux', 'the device cannot be opened: Device or resource busy', /keeps the device to itself/],
  ['win32', 'Audio client: 0x8889000A', /take exclusive use off/],
  ['darwin', 'the device is already in use', /opened again by itself/],
] as const)('on %s, "%s" says that another program has it, and what to do', (platform, told, remedy) => {
  expect(whyNotHeard(platform, told)).toMatch(/^Another program keeps the device to itself\./);
  expect(whyNotHeard(platform, told)).toMatch(remedy);
});

it('says both where Windows does not tell the two apart, and leaves every other reason as it was told', () => {
  expect(whyNotHeard('win32', 'the device cannot be opened: I/O error')).toMatch(/unplugged, or another program/);
  for (const told of [
    'Desk Mic is not connected to this PC now.',
    'It ended by itself.',
    'the device cannot be opened: I/O error',
  ])
    expect(whyNotHeard('linux', told)).toBe(told);
});
