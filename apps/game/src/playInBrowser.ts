import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import type { GameOptions } from './gameOptions';
import type { PlayEvents } from './playInWindow';

/** How each system opens an address in its browser. */
const openers: Partial<Record<NodeJS.Platform, (address: string) => [command: string, args: string[]]>> = {
  linux: (address) => ['xdg-open', [address]],
  darwin: (address) => ['open', [address]],
  win32: (address) => ['cmd', ['/c', 'start', '', address]],
};

const askMs = 200;
/** A line of the log is two numbers. */
const lineForm = /^\d{1,10},\d{1,18}$/;
const mostBytes = 1e6;

/** Serves the game to a browser on this PC and opens it; plays until its page is closed, the time is over or it is asked to leave. */
export async function playInBrowser({ game, seconds, sound }: GameOptions, events: PlayEvents): Promise<void> {
  const script = await pageScript();
  const html = pageOf(game.title, JSON.stringify({ game, sound }));
  let closed = false;
  events.presented('frame,shownUs');
  const log = (text: string): void => text.split('\n').forEach((line) => lineForm.test(line) && events.presented(line));
  const server = createServer((request, response) => {
    const answer = (type: string, body: string): void => {
      response.writeHead(200, { 'Content-Type': `${type}; charset=utf-8`, 'Cache-Control': 'no-store' });
      response.end(body);
    };
    if (request.method === 'GET' && request.url === '/') return answer('text/html', html);
    if (request.method === 'GET' && request.url === '/page.js') return answer('text/javascript', script);
    if (request.method === 'POST' && (request.url === '/shown' || request.url === '/closed'))
      return void textOf(request).then((text) => {
        log(text);
        closed ||= request.url === '/closed';
        answer('text/plain', '');
      });
    response.writeHead(404).end();
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
  events.say(`${game.title} is at ${address}`);
  openPage(address, events);
  const endMs = seconds === null ? Infinity : performance.now() + seconds * 1000;
  while (!closed && !events.leaving() && performance.now() < endMs)
    await new Promise((resolve) => setTimeout(resolve, askMs));
  server.closeAllConnections();
  server.close();
}

function openPage(address: string, { say }: PlayEvents): void {
  const opener = openers[process.platform]?.(address);
  if (!opener) return say('Open that address in a browser to play.');
  spawn(opener[0], opener[1], { stdio: 'ignore' }).on('error', () => say('Open that address in a browser to play.'));
}

async function pageScript(): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: [fileURLToPath(new URL('./browser/page.ts', import.meta.url))],
    bundle: true,
    write: false,
    format: 'esm',
    target: 'es2022',
    logLevel: 'silent',
  });
  return outputFiles[0]?.text ?? '';
}

const escaped = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

function pageOf(title: string, given: string): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><link rel="icon" href="data:,"><title>${escaped(title)}</title><style>html,body{margin:0;height:100%;background:#000;overflow:hidden}canvas{display:block;image-rendering:pixelated}</style><body data-given="${escaped(given)}"><canvas></canvas><script type="module" src="/page.js"></script></body></html>`;
}

async function textOf(request: IncomingMessage): Promise<string> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > mostBytes) return '';
  }
  return text;
}
