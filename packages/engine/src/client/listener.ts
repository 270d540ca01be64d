import type { PageSounds, SoundInput, SoundLevel } from '@mellow/model';
import { openProcess } from './processChannel';

/** A process that listens to sounds before anything rolls. */
export interface Listener {
  listenTo(sounds: readonly SoundInput[], pageSounds: PageSounds | null): void;
  onLevels(take: (levels: SoundLevel[]) => void): void;
  onExit(gone: () => void): void;
  close(): void;
}

/** @throws in words where it cannot be started */
export async function startListener(): Promise<Listener> {
  const channel = await openProcess('listen');
  return {
    listenTo: (sounds, pageSounds) => channel.send({ type: 'listen', sounds: [...sounds], pageSounds }),
    onLevels: (take) => void channel.onEvent((event) => void (event.type === 'levels' && take(event.levels))),
    onExit: (gone) => void channel.onExit(gone),
    close: channel.kill,
  };
}
