import { spawn } from 'node:child_process';
import { problem } from '../errors/problem';

/** The program by which each system shows a folder to a person. */
const openers: Partial<Record<NodeJS.Platform, string>> = { linux: 'xdg-open', darwin: 'open', win32: 'explorer.exe' };
const patienceMs = 3000;

/**
 * Shows a folder in the system's own file manager. Openers end at once or stay with their window; one that ends badly says
 * so soon.
 * @throws a problem that names the folder where nothing can show it
 */
export function openFolder(folder: string, opener: string | undefined = openers[process.platform]): Promise<void> {
  const cannot = (why: string) => problem('job-failed', `Nothing here can show a folder (${why}). It is ${folder}.`);
  if (!opener) return Promise.reject(cannot('no program for that is known on this system'));
  return new Promise((resolve, reject) => {
    const child = spawn(opener, [folder], { detached: true, stdio: 'ignore' });
    const stays = setTimeout(resolve, patienceMs);
    child.once('error', (error) => reject(cannot(error.message)));
    child.once('exit', (code) => {
      // Windows' own ends with 1 also when it has opened a window.
      if (code === 0 || process.platform === 'win32') resolve();
      else reject(cannot(`${opener} ended with ${code}`));
    });
    child.once('close', () => clearTimeout(stays));
    child.unref();
  });
}
