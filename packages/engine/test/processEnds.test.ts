import { fork } from 'node:child_process';
import { join } from 'node:path';

/** The processes of the engine end by themselves when the application goes, also while they are still loading. */
const bundle = (name: string): string => join(__dirname, '../build', `${name}.mjs`);

/** Resolves with the exit code once the process has ended, having lost its channel when `when` says so. */
const endsAfter = (name: string, when: 'at once' | 'when ready'): Promise<number | null> =>
  new Promise((resolve) => {
    const child = fork(bundle(name), [], { serialization: 'advanced', stdio: ['ignore', 'ignore', 'ignore', 'ipc'] });
    child.on('exit', (code) => resolve(code));
    if (when === 'at once') child.disconnect();
    else child.once('message', () => child.disconnect());
  });

describe.each(['main', 'job'])('the process %s', (name) => {
  it.each(['at once', 'when ready'] as const)('ends when its channel closes %s', async (when) => {
    expect(await endsAfter(name, when)).toBe(0);
  });
});
