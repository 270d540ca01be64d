import { createWriteStream } from 'node:fs';
import { openX11 } from '@mellow/engine';
import { errorText } from '@mellow/core';
import { gameHelp, gameOptionsOf, type GameOptions } from './gameOptions';
import { playInBrowser } from './playInBrowser';
import { playInWindow, type PlayEvents } from './playInWindow';

/** `npm run game`: a practice game in a window of its own, as a real target to record. */
async function main(args: readonly string[]): Promise<void> {
  if (args.includes('--help')) return void console.log(gameHelp);
  let options: GameOptions;
  try {
    options = gameOptionsOf(args);
  } catch (error) {
    console.error(`${errorText(error)}\n\n${gameHelp}`);
    process.exit(2);
  }
  const log = options.logPath ? createWriteStream(options.logPath) : null;
  let leaving = false;
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => (leaving = true));
  const events: PlayEvents = {
    presented: (line) => void log?.write(`${line}\n`),
    leaving: () => leaving,
    say: (text) => console.error(text),
  };
  await play(options, events);
  await new Promise<void>((resolve) => (log ? log.end(() => resolve()) : resolve()));
  process.exit(0);
}

/** In a window of X11; where there is none, in one of a browser. */
async function play(options: GameOptions, events: PlayEvents): Promise<void> {
  const x = options.browser
    ? null
    : await openX11().catch((error: unknown) => {
        events.say(`${errorText(error)} The game is played in a browser's window instead.`);
        return null;
      });
  if (!x) return playInBrowser(options, events);
  await playInWindow(x, options, events);
  x.close();
}

void main(process.argv.slice(2));
