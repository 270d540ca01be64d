import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { z } from 'zod';
import type { PageSoundHub, PageSoundSender } from '../machine/pageSounds';
import { errorText } from '@mellow/core';
import type { AppLog } from '../program/appLog';
import { refusalOf, showsKey, type Keys } from './access';

/** The first message of a page: which sound, and how its samples lie. */
const helloSchema = z.object({
  what: z.enum(['microphone', 'playback']),
  rateHz: z.number(),
  channels: z.int(),
});
const socketPath = '/api/sounds/page';
/** A second of the most that is sent: eight channels at 192 kHz. */
const largestMessage = 8e6;
const otherPage = { code: 4001, reason: 'Another page listens now.' };
const notUnderstood = { code: 4000, reason: 'That was not understood.' };

/**
 * Takes a page's sound over a WebSocket (RFC 6455): a line of JSON, then samples.
 * @param keys what opens the interface; null: nothing is needed
 */
export function takePageSounds(server: Server, hub: PageSoundHub, keys: Keys | null, log: AppLog): void {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: largestMessage });
  server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
    // Node takes its own listener off: one that is reset would end the application.
    socket.on('error', () => socket.destroy());
    try {
      const status = statusOf(request, keys);
      if (status) return void socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
      sockets.handleUpgrade(request, socket, head, (page) => hear(page, hub));
    } catch (error) {
      log.add('warn', `A connection was refused: ${errorText(error)}`);
      socket.destroy();
    }
  });
}

/** What an upgrade is refused with; null where it is the page's. */
function statusOf(request: IncomingMessage, keys: Keys | null): string | null {
  if (refusalOf(request)) return '403 Forbidden';
  if (keys && !showsKey(request.headers, keys)) return '401 Unauthorized';
  const [path] = (request.url ?? '').split('?');
  return path === socketPath ? null : '404 Not Found';
}

function hear(page: WebSocket, hub: PageSoundHub): void {
  let sender: PageSoundSender | null = null;
  page.on('message', (data, isBinary) => {
    const bytes = Buffer.isBuffer(data) ? data : Array.isArray(data) ? Buffer.concat(data) : Buffer.from(data);
    if (sender && isBinary && bytes.length % 4 === 0) return sender.samples(bytes);
    const hello = sender || isBinary ? undefined : helloSchema.safeParse(jsonOf(bytes)).data;
    sender = hello ? hub.begin(hello.what, hello, () => page.close(otherPage.code, otherPage.reason)) : sender;
    if (!hello || !sender) page.close(notUnderstood.code, notUnderstood.reason);
  });
  page.on('error', () => {});
  page.on('close', () => sender?.end());
}

function jsonOf(bytes: Buffer): unknown {
  try {
    return JSON.parse(String(bytes));
  } catch {
    return null;
  }
}
