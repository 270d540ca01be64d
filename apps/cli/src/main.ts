import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { errorText } from '@mellow/core';
import { CommandError, openAsk } from './ask';
import { commandNamed, helpText } from './commands';

const options = {
  json: { type: 'boolean', default: false },
  help: { type: 'boolean', default: false },
  length: { type: 'string' },
} as const;

/** `npx mellow`: starts, stops, marks and keeps from a shell, a macro key or a launcher. */
async function main(args: string[]): Promise<void> {
  const { values, positionals } = parsed(args);
  const [name, ...words] = positionals;
  if (values.help || name === undefined || name === 'help') {
    console.log(helpText);
    if (name === undefined && !values.help) process.exitCode = 2;
    return;
  }
  const command = commandNamed(name);
  if (words.length > command.words) throw new CommandError(2, `Too many words. It is used so: mellow ${command.usage}`);
  const root = fileURLToPath(new URL('../../..', import.meta.url));
  const ask = openAsk(process.env['MELLOW_DATA'] ?? join(root, 'data'));
  const said = await command.run(ask, { words, length: values.length });
  console.log(values.json ? JSON.stringify(said.data, null, 1) : said.text);
}

function parsed(args: string[]) {
  try {
    return parseArgs({ args, options, allowPositionals: true });
  } catch (error) {
    throw new CommandError(2, `${errorText(error)}\n\n${helpText}`);
  }
}

main(process.argv.slice(2)).catch((error: unknown) => {
  console.error(errorText(error));
  process.exitCode = error instanceof CommandError ? error.exitCode : 1;
});
