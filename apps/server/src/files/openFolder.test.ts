import { chmodSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openFolder } from './openFolder';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-open-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

function opener(text: string): string {
  const path = join(folder, 'opener');
  writeFileSync(path, `#!/bin/sh\n${text}\n`);
  chmodSync(path, 0o755);
  return path;
}

it('hands the folder to the system’s program as one word, whatever signs it has', async () => {
  const odd = join(folder, 'a b; rm $x "ü"');
  await openFolder(odd, opener(`printf %s "$1" > "${join(folder, 'told')}"`));
  expect(readFileSync(join(folder, 'told'), 'utf8')).toBe(odd);
});
it('names the folder where nothing can show it', async () => {
  await expect(openFolder('/footage', opener('exit 3'))).rejects.toThrow(/ended with 3\). It is \/footage\./);
  await expect(openFolder('/footage', join(folder, 'none'))).rejects.toThrow(/ENOENT.*It is \/footage\./);
});
