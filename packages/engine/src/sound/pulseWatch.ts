import { spawn, type ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';
import { pulseEnvironment } from './pulseList';

const gatherMs = 80;
const againMs = 1000;

/** "Event 'new' on client #7": programs come and go without sound, and whoever asks for the state is one himself. */
const ofProgram = / on client #\d+$/;

/**
 * Tells when something of the sound system has changed: a device came or went, a stream was moved. It is told at the start too,
 * and once a second while the system does not answer.
 */
export function watchPulse(changed: () => void): { stop(): void } {
  let child: ChildProcess | null = null;
  let gathering: NodeJS.Timeout | undefined;
  let again: NodeJS.Timeout | undefined;
  let stopped = false;
  const gather = (): void => {
    clearTimeout(gathering);
    gathering = setTimeout(changed, gatherMs);
  };
  const begin = (): void => {
    child = spawn('pactl', ['subscribe'], { env: pulseEnvironment(), stdio: ['ignore', 'pipe', 'ignore'] });
    if (child.stdout)
      createInterface(child.stdout).on('line', (line) => {
        if (!ofProgram.test(line)) gather();
      });
    let ended = false;
    const retry = (): void => {
      if (ended || stopped) return;
      ended = true;
      gather();
      again = setTimeout(begin, againMs);
    };
    child.on('error', retry);
    child.on('exit', retry);
  };
  begin();
  gather();
  return {
    stop() {
      stopped = true;
      clearTimeout(gathering);
      clearTimeout(again);
      child?.kill('SIGKILL');
    },
  };
}
