import { bytesParts, formatBytes, formatDuration, hindsightWords, takeName, verdictInShort } from '@mellow/core';
import {
  keptClipSchema,
  liveStateSchema,
  markSchema,
  setupListSchema,
  takeListSchema,
  takeSchema,
  type LiveState,
  type Take,
} from '@mellow/model';
import { z } from 'zod';
import { CommandError, type Ask } from './ask';
import { secondsOf } from './lengthText';
import { whichSetup } from './whichSetup';

export interface Asked {
  /** What follows the command's name. */
  words: readonly string[];
  length: string | undefined;
}

/** What a command says to a person, and the same as data. */
export interface Said {
  text: string;
  data: unknown;
}

export interface Command {
  usage: string;
  about: string;
  /** Most words that follow. */
  words: number;
  run(ask: Ask, asked: Asked): Promise<Said>;
}

const nothing = z.unknown();
const takesOf = (ask: Ask): Promise<Take[]> => ask('GET', '/takes', takeListSchema);
const setupFor = async (ask: Ask, asked: Asked) =>
  whichSetup(await ask('GET', '/setups', setupListSchema), await takesOf(ask), asked.words[0]);
const lengthOf = (asked: Asked): number | null => (asked.length === undefined ? null : secondsOf(asked.length));

async function begin(ask: Ask, asked: Asked, body: { kind?: 'full'; lengthS?: number | null }): Promise<Said> {
  const setup = await setupFor(ask, asked);
  const take = await ask('POST', `/setups/${setup.id}/trials`, takeSchema, body);
  return { text: `${takeName(take)} of ${setup.name} begins: ${take.filePath}`, data: take };
}

/** Every command by its name. */
export const commands: Readonly<Record<string, Command>> = {
  status: {
    usage: 'status',
    about: 'what the recorder does now',
    words: 0,
    async run(ask) {
      const state = await ask('GET', '/state', liveStateSchema);
      return { text: statusText(state), data: state };
    },
  },
  roll: {
    usage: 'roll [setup] [--length 1:30:00]',
    about: 'roll a full take, until it is stopped or for a length',
    words: 1,
    run: (ask, asked) => begin(ask, asked, { kind: 'full', lengthS: lengthOf(asked) }),
  },
  trial: {
    usage: 'trial [setup] [--length 10s]',
    about: 'make a trial of a setup',
    words: 1,
    run: (ask, asked) => begin(ask, asked, asked.length === undefined ? {} : { lengthS: lengthOf(asked) }),
  },
  stop: {
    usage: 'stop',
    about: 'stop what rolls; it is closed and kept',
    words: 0,
    async run(ask) {
      const data = await ask('POST', '/recorder/stop', nothing);
      return { text: 'It stops; its file is closed and read back.', data };
    },
  },
  pause: {
    usage: 'pause',
    about: 'record nothing of the full take that rolls, until it goes on',
    words: 0,
    async run(ask) {
      await ask('POST', '/recorder/pause', nothing, { on: true });
      return { text: 'It is paused; nothing of the pause will be in the file.', data: null };
    },
  },
  'go-on': {
    usage: 'go-on',
    about: 'go on with what is paused',
    words: 0,
    async run(ask) {
      await ask('POST', '/recorder/pause', nothing, { on: false });
      return { text: 'It goes on.', data: null };
    },
  },
  mark: {
    usage: 'mark ["note"]',
    about: 'mark this moment of what rolls',
    words: 1,
    async run(ask, asked) {
      const mark = await ask('POST', '/recorder/marks', markSchema, { note: asked.words[0] ?? '' });
      return { text: `marked ${formatDuration(mark.atUs / 1e6)}${mark.note ? `, ${mark.note}` : ''}`, data: mark };
    },
  },
  keep: {
    usage: 'keep [3m]',
    about: 'keep the last minutes of what is held as a clip',
    words: 1,
    async run(ask, asked) {
      const lastS = asked.words[0] === undefined ? null : secondsOf(asked.words[0]);
      const clip = await ask('POST', '/recorder/keep', keptClipSchema, { lastS });
      return { text: `the last ${hindsightWords(clip.keptUs / 1e6)} are kept: ${clip.filePath}`, data: clip };
    },
  },
  hold: {
    usage: 'hold [setup]',
    about: 'hold the last minutes of a setup while no take rolls',
    words: 1,
    async run(ask, asked) {
      const setup = await setupFor(ask, asked);
      const data = await ask('POST', '/hindsight/on', nothing, { setupId: setup.id });
      return {
        text: `${setup.name}: its last ${hindsightWords(setup.hindsight?.lengthS ?? 0)} are held from now on`,
        data,
      };
    },
  },
  'let-go': {
    usage: 'let-go',
    about: 'hold nothing any more',
    words: 0,
    async run(ask) {
      await ask('POST', '/hindsight/off', nothing);
      return { text: 'Nothing is held any more.', data: null };
    },
  },
  takes: {
    usage: 'takes',
    about: 'takes, trials, samples and clips, newest first',
    words: 0,
    async run(ask) {
      const takes = await takesOf(ask);
      return { text: takes.map(takeLine).join('\n') || 'No take yet.', data: takes };
    },
  },
};

function takeLine(take: Take): string {
  const length = take.facts ? formatDuration((take.facts.picture.endUs ?? 0) / 1e6) : take.state;
  const size = take.facts ? formatBytes(take.facts.bytes) : '';
  const verdict = take.verdict ? `${take.verdict.mark}: ${verdictInShort(take.verdict)}` : '';
  return [take.id, takeName(take).padEnd(10), length.padStart(9), size.padStart(9), take.filePath, verdict]
    .join('  ')
    .trimEnd();
}

/** One line that says how things stand. */
export function statusText({ recorder, take, watching }: LiveState): string {
  if (take) {
    const { value, unit } = bytesParts(take.bytesWritten);
    const lost = (['capture-miss', 'encode-miss', 'write-miss'] as const).reduce(
      (sum, fate) => sum + take.fates[fate],
      0,
    );
    const word = take.pausedS === null ? recorder : `paused for ${formatDuration(take.pausedS)}`;
    return `${word}: ${formatDuration(take.elapsedUs / 1e6)}, ${value} ${unit}, ${lost} of ${take.due} frames lost`;
  }
  if (watching?.state === 'on' && watching.held)
    return `holding the last ${hindsightWords(Math.min(watching.held.heldS, watching.held.lengthS))}`;
  return watching ? `${recorder}, hindsight ${watching.state}` : recorder;
}

export const helpText = [
  'mellow COMMAND [--json]',
  '',
  ...Object.values(commands).map(({ usage, about }) => `  ${usage.padEnd(34)}${about}`),
  '',
  '  --json    the answer as JSON',
  '  --help    this text',
  '',
  'It talks to the application that runs on the data folder (MELLOW_DATA, or "data" in the project).',
  'Exit codes: 0 done, 1 refused, 2 not understood, 3 the application does not run.',
].join('\n');

export function commandNamed(name: string): Command {
  const command = Object.hasOwn(commands, name) ? commands[name] : undefined;
  if (command) return command;
  throw new CommandError(2, `There is no command "${name}".\n\n${helpText}`);
}
