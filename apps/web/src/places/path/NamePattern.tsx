import {
  containerWords,
  formatSize,
  namesAreApart,
  nameFrom,
  nameWords,
  subfolderFrom,
  unknownNameWords,
  type NameWord,
} from '@mellow/core';
import { TypedField } from '../../parts/NumberField';
import { usePath } from './pathContext';
import { SettingRow } from './SettingRow';

const words = Object.keys(nameWords) as NameWord[];

/** The name pattern with its words, and what it makes of the next take. */
export function NamePattern() {
  const { recipe, setup, trials, change } = usePath();
  const { pattern, subfolder } = recipe.file;
  const set = (next: string) => change({ ...recipe, file: { ...recipe.file, pattern: next } });
  const now = new Date();
  const number = Math.max(0, ...trials.map((t) => t.number)) + 1;
  const values = {
    game: setup.game.title,
    setup: setup.name,
    kind: 'trial',
    number: String(number),
    recipe: String((setup.versions.at(-1)?.number ?? 0) + 1),
    size: formatSize(recipe.size.widthPx, recipe.size.heightPx).replace('×', 'x'),
    date: now.toISOString().slice(0, 10),
    time: now.toTimeString().slice(0, 8).replaceAll(':', '.'),
  };
  const folder = subfolderFrom(subfolder, values);
  return (
    <SettingRow setting="pattern" label="Name">
      <div className="name-pattern">
        <TypedField
          wide
          label="Name pattern"
          text={pattern}
          parse={(text) => {
            const unknown = unknownNameWords(text);
            if (text.trim() === '' || text.length > 120) return { problem: 'A pattern has 1 to 120 signs.' };
            if (unknown.length)
              return {
                problem: `Nothing is known for {${unknown[0]}}. Words are ${words.map((w) => `{${w}}`).join(' ')}.`,
              };
            if (!namesAreApart(text))
              return { problem: 'Two takes would get one name. Put in {number}, or {date} and {time}.' };
            return { value: text.trim() };
          }}
          onChange={set}
        />
        <span className="name-words">
          <span className="soft small">add</span>
          {words
            .filter((word) => !pattern.includes(`{${word}}`))
            .map((word) => (
              <button
                key={word}
                type="button"
                className="link small"
                aria-label={`Add ${word}: ${nameWords[word]}`}
                onClick={() => set(`${pattern} {${word}}`)}
              >
                {word}
              </button>
            ))}
        </span>
        <p className="name-reads small">
          <span className="soft">Reads {folder ? `${folder.replaceAll('/', ' / ')} /` : ''}</span>{' '}
          <b>
            {nameFrom(pattern, values)}.{containerWords[recipe.container].suffix}
          </b>
        </p>
      </div>
    </SettingRow>
  );
}
