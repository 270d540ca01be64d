import type { HeardLevels, Listening, PageSounds } from '@mellow/model';
import { openProcess } from './processChannel';

/** A process that listens to sounds before anything rolls. */
export interface Listener {
  listenTo(to: Listening, pageSounds: PageSounds | null): void;
  onLevels(take: (levels: HeardLevels) => void): void;
  /** The last seconds of a lane as its sounds were mixed: interleaved stereo at 48 kHz. */
  lastHeard(lane: number): Promise<Int16Array>;
  onExit(gone: () => void): void;
  close(): void;
}

/** @throws in words where it cannot be started */
export async function startListener(): Promise<Listener> {
  const channel = await openProcess('listen');
  return {
    listenTo: (to, pageSounds) => channel.send({ type: 'listen', to, pageSounds }),
    onLevels: (take) => void channel.onEvent((event) => void (event.type === 'levels' && take(event.levels))),
    lastHeard: (lane) =>
      new Promise((resolve, reject) => {
        const stops: (() => void)[] = [];
        const settle = (act: () => void): void => {
          for (const stop of stops) stop();
          act();
        };
        stops.push(
          channel.onEvent((event) => {
            if (event.type === 'last-heard' && event.lane === lane) settle(() => resolve(event.samples));
          }),
          channel.onExit(() => settle(() => reject(new Error('The process that listens has ended. Try again.')))),
        );
        channel.send({ type: 'last-heard', lane });
      }),
    onExit: (gone) => void channel.onExit(gone),
    close: channel.kill,
  };
}
