import { isLeftAlone, sameProgram } from './index';

it('knows a program with and without its ending, in any case, and where its name is cut off', () => {
  for (const [meant, listed] of [
    ['paper comets', 'Paper Comets.exe'],
    ['PaperComets.exe', 'papercomets'],
    ['harrowvale-demo-x', 'harrowvale-demo'],
    ['Tin Cathedral', ' tin cathedral '],
  ] as const)
    expect([meant, sameProgram(meant, listed)]).toEqual([meant, true]);
});
it('takes no other for it: no part of a name, nothing for no name', () => {
  for (const [meant, listed] of [
    ['comets', 'comets-launcher.exe'],
    ['comets-launcher', 'comets'],
    ['', ''],
    ['.exe', 'other.exe'],
    ['vale', 'harrow-vale'],
  ] as const)
    expect([meant, sameProgram(meant, listed)]).toEqual([meant, false]);
});
it('leaves alone what is named, and nothing where nothing is', () => {
  expect(isLeftAlone(['Mail', 'Ledger.exe'], 'ledger')).toBe(true);
  expect(isLeftAlone(['Mail'], 'mailer')).toBe(false);
  expect(isLeftAlone([], 'mail')).toBe(false);
});
