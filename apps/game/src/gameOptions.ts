import { parseArgs } from 'node:util';
import { plainPracticeGame, practiceSceneWords, withScene } from '@mellow/core';
import { practiceGameSchema, practiceScenes, type PracticeGame } from '@mellow/model';

export interface GameOptions {
  game: PracticeGame;
  /** Where the log of presented frames goes; null: none. */
  logPath: string | null;
  /** The game ends by itself after so many seconds; null: when it is closed. */
  seconds: number | null;
  /** Whether it is heard, and through which output; null: the one in use. */
  sound: boolean;
  output: string | null;
  /** In a browser's window even where X11 would open one. */
  browser: boolean;
}

export const gameHelp = `npm run game -- [options]: opens a practice game in a window of its own, to be recorded like any other.
  --scene NAME      ${practiceScenes.join(', ')}
  --size WxH        1280x720
  --cap FPS         frames a second, 10 to 500: 60
  --title TEXT      title of the window
  --log FILE        writes each frame's number and time in microseconds, as CSV
  --seconds N       ends after N seconds
  --no-strip        without the number strip
  --no-sound        silent
  --browser         in a browser's window, as where there is no X11
  --output NAME     the sound system's output to play through: the one in use
Arrow keys steer the brass square.`;

/** @throws in words where an option is not understood */
export function gameOptionsOf(args: readonly string[]): GameOptions {
  const { values } = parseArgs({
    args: [...args],
    options: {
      scene: { type: 'string', default: practiceScenes[0] },
      size: { type: 'string', default: '1280x720' },
      cap: { type: 'string', default: '60' },
      title: { type: 'string' },
      log: { type: 'string' },
      seconds: { type: 'string' },
      'no-strip': { type: 'boolean', default: false },
      'no-sound': { type: 'boolean', default: false },
      browser: { type: 'boolean', default: false },
      output: { type: 'string' },
    },
  });
  const scene = practiceScenes.find((name) => name === values.scene);
  if (!scene) throw new Error(`There is no scene "${values.scene}": choose from ${practiceScenes.join(', ')}.`);
  const size = /^(\d+)x(\d+)$/.exec(values.size);
  if (!size) throw new Error(`"${values.size}" is no size: write 1280x720.`);
  const seconds = values.seconds === undefined ? null : Number(values.seconds);
  if (seconds !== null && !(seconds > 0)) throw new Error(`"${values.seconds}" is no length in seconds.`);
  const game = practiceGameSchema.safeParse({
    ...withScene(plainPracticeGame, scene),
    title: values.title ?? practiceSceneWords[scene].title,
    widthPx: Number(size[1]),
    heightPx: Number(size[2]),
    capFps: Number(values.cap),
    strip: !values['no-strip'],
  });
  if (!game.success)
    throw new Error(
      `That cannot be played: ${game.error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('; ')}`,
    );
  return {
    game: game.data,
    logPath: values.log ?? null,
    seconds,
    sound: !values['no-sound'],
    output: values.output ?? null,
    browser: values.browser,
  };
}
