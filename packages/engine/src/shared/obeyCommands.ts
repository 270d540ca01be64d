import type { Control } from './control';
import { gameModes } from './gameModes';

/**
 * What brings pictures waits for commands, plays while it is told to, and returns when it is told to quit. Every command has a
 * number, and who obeys says which one was heard: nobody waits for one that was never seen.
 * @param play gets a question: whether the command still stands
 */
export function obeyCommands(control: Control, play: (goesOn: () => boolean) => void): void {
  for (let heard = 0; ;) {
    control.wait('gameCommand', heard, 60e6);
    heard = control.get('gameCommand');
    const mode = control.get('gameMode');
    control.set('gameHeard', heard);
    if (mode === gameModes.quit) return;
    const obeyed = heard;
    if (mode === gameModes.run) play(() => control.get('gameCommand') === obeyed);
  }
}
