import type { EngineEvent, KeepOrder, SoundSource, TakeClosing, TakeOrder } from '@mellow/model';
import { openProcess, type ProcessEnd } from './processChannel';

/** The recorder's process, seen from outside: it rolls one take at a time and does nothing else. */
export interface RecorderClient {
  readonly pid: number;
  roll(order: TakeOrder): void;
  stop(): void;
  /** Opens or closes a sound that is heard while its key is held. */
  hold(sound: SoundSource, open: boolean): void;
  /** Records nothing until it goes on. */
  pause(on: boolean): void;
  /** Writes part of what is held into a file; the answer is an event. */
  keep(keep: KeepOrder): void;
  /** Closes what rolls and ends. */
  quit(): void;
  kill(): void;
  onEvent(listener: (event: EngineEvent) => void): () => void;
  onExit(listener: (how: ProcessEnd) => void): () => void;
}

/** @throws in words where it cannot be started */
export async function startRecorder(): Promise<RecorderClient> {
  const channel = await openProcess('recorder');
  return {
    pid: channel.pid,
    roll: (order) => channel.send({ type: 'roll', order }),
    stop: () => channel.send({ type: 'stop' }),
    hold: (sound, open) => channel.send({ type: 'hold', sound, open }),
    pause: (on) => channel.send({ type: 'pause', on }),
    keep: (keep) => channel.send({ type: 'keep', keep }),
    quit: () => channel.send({ type: 'quit' }),
    kill: channel.kill,
    onEvent: channel.onEvent,
    onExit: channel.onExit,
  };
}

/** Rolls one order up to its closed container. @throws when it is refused or the recorder ends */
export function rollToEnd(recorder: RecorderClient, order: TakeOrder): Promise<TakeClosing> {
  return new Promise((resolve, reject) => {
    const stops: (() => void)[] = [];
    const settle = (act: () => void): void => {
      for (const stop of stops) stop();
      act();
    };
    stops.push(
      recorder.onEvent((event) => {
        if (event.type === 'closed' && event.closing.takeId === order.takeId) settle(() => resolve(event.closing));
        if (event.type === 'refused' && event.takeId === order.takeId) settle(() => reject(new Error(event.text)));
      }),
      recorder.onExit(({ code, signal }) =>
        settle(() => reject(new Error(`the recorder's process ended (${signal ?? code})`))),
      ),
    );
    recorder.roll(order);
  });
}
