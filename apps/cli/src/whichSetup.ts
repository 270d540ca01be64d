import type { Setup, Take } from '@mellow/model';
import { CommandError } from './ask';

/**
 * The setup that is meant: by its id or name (a part that only one has is enough), or without a word the one that was used
 * last, or the only one.
 */
export function whichSetup(setups: readonly Setup[], takes: readonly Take[], asked: string | undefined): Setup {
  if (asked === undefined) {
    const used = takes.map(({ setupId }) => setups.find(({ id, demo }) => id === setupId && !demo)).find(Boolean);
    const own = setups.filter(({ demo }) => !demo);
    const only = own.length === 1 ? own[0] : undefined;
    if (used ?? only) return (used ?? only) as Setup;
    throw new CommandError(2, `Say which setup: ${listed(own.length ? own : setups)}.`);
  }
  const word = asked.toLowerCase();
  const exact = setups.filter(({ id, name }) => id === asked || name.toLowerCase() === word);
  const near = exact.length ? exact : setups.filter(({ name }) => name.toLowerCase().includes(word));
  const [first] = near;
  if (first && near.length === 1) return first;
  throw new CommandError(
    2,
    first
      ? `"${asked}" is the name of ${near.length} setups. Use an id: ${near.map(({ id, name }) => `${id} (${name})`).join(', ')}.`
      : `No setup is called "${asked}". There are: ${listed(setups)}.`,
  );
}

function listed(setups: readonly Setup[]): string {
  return setups.map(({ name }) => `"${name}"`).join(', ') || 'none yet';
}
