import { namesOfPs, namesOfTasklist, processNames } from './processList';

it('reads the table of Windows, with commas and quotes in names (format: Microsoft, tasklist /fo csv)', () => {
  const text =
    '"System Idle Process","0","Services","0","8 K"\r\n"Paper Comets.exe","4711","Console","1","512,000 K"\r\n"a ""b"".exe","1","C","1","1 K"\r\n';
  expect(namesOfTasklist(text)).toEqual(['System Idle Process', 'Paper Comets.exe', 'a "b".exe']);
  expect(namesOfTasklist('INFO: No tasks are running which match the specified criteria.')).toEqual([]);
});

it('reads paths as macOS lists them', () =>
  expect(namesOfPs('/sbin/launchd\n/Applications/Paper Comets.app/Contents/MacOS/Paper Comets\n\n')).toEqual([
    'launchd',
    'Paper Comets',
  ]));

it('finds this very program here', async () => {
  if (process.platform !== 'linux') return;
  expect(await processNames()).toContain('node');
});
