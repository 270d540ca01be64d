import { randomBytes } from 'node:crypto';
import { createServer, type Server, type Socket } from 'node:net';
import { pageFormatSchema, newLocalAddress } from '@mellow/engine';
import type { PageSounds, SoundFrom } from '@mellow/model';

export type PageSound = Extract<SoundFrom, { kind: 'page' }>['what'];

/** What a page hears on its way to whoever records or meters it. */
export interface PageSoundHub {
  /** Where the recorder fetches it. */
  readonly door: PageSounds;
  /** A page sends a sound now. */
  comes(what: PageSound): boolean;
  /** A page begins to send; a later one takes the place of an earlier one. @returns where its samples go, null where the format is none */
  begin(what: PageSound, format: unknown, replaced: () => void): PageSoundSender | null;
  close(): void;
}

export interface PageSoundSender {
  /** Little-endian floats, channels beside one another. */
  samples(bytes: Buffer): void;
  end(): void;
}

interface Sending {
  format: { rateHz: number; channels: number };
  replaced: () => void;
}

/** Somebody who reads this slowly is not read by anybody: it is let go. */
const mostWaitingBytes = 8e6;

/** Hands on what pages send, to local processes that know the word. */
export function createPageSoundHub(): PageSoundHub {
  const door: PageSounds = { address: newLocalAddress('sound'), token: randomBytes(24).toString('hex') };
  const sending = new Map<PageSound, Sending>();
  const listening = new Map<Socket, PageSound>();
  const server: Server = createServer((socket) => {
    let asked = '';
    socket.on('error', () => socket.destroy());
    socket.on('close', () => void listening.delete(socket));
    socket.on('data', (bytes) => {
      if (listening.has(socket)) return;
      asked += String(bytes);
      const line = asked.indexOf('\n');
      if (line < 0 && asked.length < 200) return;
      const [token, what] = asked.slice(0, line).split(' ');
      const from = what === 'microphone' || what === 'playback' ? sending.get(what) : undefined;
      if (token !== door.token || !from) return void socket.destroy();
      socket.write(`${JSON.stringify(from.format)}\n`);
      listening.set(socket, what as PageSound);
    });
  });
  server.on('error', () => {});
  server.listen(door.address);
  server.unref();

  function drop(what: PageSound): void {
    sending.delete(what);
    for (const [socket, wanted] of listening) if (wanted === what) socket.destroy();
  }

  return {
    door,
    comes: (what) => sending.has(what),
    begin(what, given, replaced) {
      const format = pageFormatSchema.safeParse(given).data;
      if (!format) return null;
      const before = sending.get(what);
      drop(what);
      before?.replaced();
      const own: Sending = { format, replaced };
      sending.set(what, own);
      return {
        samples(bytes) {
          if (sending.get(what) !== own) return;
          for (const [socket, wanted] of listening) {
            if (wanted !== what) continue;
            if (socket.writableLength > mostWaitingBytes) socket.destroy();
            else socket.write(bytes);
          }
        },
        end() {
          if (sending.get(what) === own) drop(what);
        },
      };
    },
    close() {
      for (const what of [...sending.keys()]) drop(what);
      server.close();
    },
  };
}
