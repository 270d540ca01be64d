import type { TakeTrouble } from '@mellow/model';
import type { Control } from '../shared/control';
import { nowUs } from '../shared/monotonic';
import type { ThreadName } from '../shared/threadNames';

/** An encoder that lets nothing out for so long, while pictures wait for it, is told. */
const silentEncoderUs = 1e6;

const whoOf = (name: ThreadName): TakeTrouble['who'] =>
  name === 'keep' ? 'hindsight' : name === 'camera' ? 'camera' : name === 'encode' ? 'encoder' : 'sound';

const lostTexts: Partial<Record<ThreadName, string>> = {
  keep: 'The last minutes are not held for now',
  camera: 'The camera brings no pictures for now',
  sound: 'The practice game is not heard for now, its lanes are silent',
  hear: 'Devices, programs and the page are not heard for now, their lanes are silent',
};

/** What does not go on beside the take, as long as it does not. */
export interface Troubles {
  /** A guest's thread is gone; null: it is there again. @returns the words to log */
  guest(name: ThreadName, why: string | null): string | null;
  /** What a thread says that it cannot do; null: it can again. */
  told(name: ThreadName, text: string | null): void;
  all(): TakeTrouble[];
}

/** @param encoderWaits pictures that wait for the encoder */
export function createTroubles(control: Control, encoderWaits: () => number): Troubles {
  const gone = new Map<ThreadName, string>();
  const told = new Map<ThreadName, string>();
  let encoded = 0;
  let encodedUs = nowUs();

  function silentEncoder(): TakeTrouble[] {
    const now = control.get('encoded');
    if (now !== encoded || encoderWaits() === 0 || control.get('ready') === 0) encodedUs = nowUs();
    encoded = now;
    const silentUs = nowUs() - encodedUs;
    if (silentUs < silentEncoderUs) return [];
    return [{ who: 'encoder', text: `The encoder has let no picture out for ${(silentUs / 1e6).toFixed(1)} s.` }];
  }

  return {
    guest(name, why) {
      if (why === null) {
        gone.delete(name);
        return `The ${name} thread is there again.`;
      }
      const text = `${lostTexts[name] ?? `The ${name} thread is gone`}: ${why} It is tried again; the take goes on.`;
      gone.set(name, text);
      return text;
    },
    told(name, text) {
      if (text === null) told.delete(name);
      else told.set(name, text);
    },
    all: () => [
      ...silentEncoder(),
      ...[...gone, ...told].map(([name, text]): TakeTrouble => ({ who: whoOf(name), text })),
    ],
  };
}
