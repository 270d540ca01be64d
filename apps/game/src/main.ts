import { createWriteStream } from 'node:fs';
import { openX11 } from '@mellow/engine';
import { gameHelp, gameOptionsOf, type GameOptions } from './gameOptions';
import { playInWindow } from './playInWindow';

/** `npm run game`: a practice game in a window of its own, as a real target to record. */
async function main(args: readonly string[]): Promise<void> {
  if (args.includes('--help')) return void console.log(gameHelp);
  let options: GameOptions;
  try {
    options = gameOptionsOf(args);
  } catch (error) {
    console.error(`${textOf(error)}\n\n${gameHelp}`);
    process.exit(2);
  }
  const x = await openX11().catch((error: unknown) => {
    console.error(
      `${textOf(error)} The practice game needs one to open its window; without, it can be recorded on Path under Game.`,
    );
    process.exit(1);
  });
  const log = options.logPath ? createWriteStream(options.logPath) : null;
  let leaving = false;
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => (leaving = true));
  await playInWindow(x, options, {
    presented: (line) => void log?.write(`${line}\n`),
    leaving: () => leaving,
    say: (text) => console.error(text),
  });
  await new Promise<void>((resolve) => (log ? log.end(() => resolve()) : resolve()));
  x.close();
  process.exit(0);
}

const textOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

void main(process.argv.slice(2));
