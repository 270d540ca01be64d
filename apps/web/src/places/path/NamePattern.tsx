import { useState, type KeyboardEvent } from 'react';
import { containerWords, formatSize, nameFrom, nameWordMeanings, subfolderFrom, type NameValues } from '@mellow/core';
import { nameWords, type NamePart, type TakeName } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { usePath } from './pathContext';
import { SettingRow } from './SettingRow';

const textOf = (part: NamePart): string => ('word' in part ? part.word : part.text);

/** The parts of a name as pills in their order, and what they make of the next take. */
export function NamePattern() {
  const { recipe, change } = usePath();
  const values = useNextValues();
  const { name, subfolder } = recipe.file;
  const set = (next: TakeName) => change({ ...recipe, file: { ...recipe.file, name: next } });
  const folder = subfolderFrom(subfolder, values);
  return (
    <SettingRow setting="name" label="Name">
      <div className="name-pattern">
        <ul className="name-pills" aria-label="Parts of the name">
          {name.map((part, i) => (
            <Pill key={`${i} ${textOf(part)}`} name={name} at={i} onChange={set} />
          ))}
        </ul>
        <span className="name-words">
          <span className="soft small">add</span>
          {nameWords
            .filter((word) => !name.some((part) => 'word' in part && part.word === word))
            .map((word) => (
              <button
                key={word}
                type="button"
                className="link small"
                aria-label={`Add ${word}: ${nameWordMeanings[word]}`}
                onClick={() => set([...name, { word }])}
              >
                {word}
              </button>
            ))}
          <OwnWord onAdd={(text) => set([...name, { text }])} />
        </span>
        <p className="name-reads small">
          <span className="soft">Reads {folder ? `${folder.replaceAll('/', ' / ')} /` : ''}</span>{' '}
          <b>
            {nameFrom(name, values)}.{containerWords[recipe.container].suffix}
          </b>
        </p>
      </div>
    </SettingRow>
  );
}

/** One part: arrow keys move it, Delete takes it out. The last one stays. */
function Pill({ name, at, onChange }: { name: TakeName; at: number; onChange: (next: TakeName) => void }) {
  const part = name[at];
  if (!part) return null;
  const without = name.filter((_, i) => i !== at);
  const remove = () => without.length && onChange(without);
  const onKey = (event: KeyboardEvent) => {
    const to = { ArrowLeft: at - 1, ArrowRight: at + 1 }[event.key];
    if (to !== undefined && to >= 0 && to < name.length) onChange(without.toSpliced(to, 0, part));
    else if (event.key === 'Delete' || event.key === 'Backspace') remove();
    else return;
    event.preventDefault();
  };
  return (
    <li className={'word' in part ? 'name-pill' : 'name-pill own'}>
      <span tabIndex={0} role="button" aria-label={`${textOf(part)}: arrow keys move it`} onKeyDown={onKey}>
        {textOf(part)}
      </span>
      <button type="button" aria-label={`Take out ${textOf(part)}`} disabled={without.length === 0} onClick={remove}>
        <Icon name="cross" size={12} />
      </button>
    </li>
  );
}

function OwnWord({ onAdd }: { onAdd: (text: string) => void }) {
  const [text, setText] = useState('');
  return (
    <input
      className="pick name-own"
      aria-label="Add words of your own"
      placeholder="words of your own"
      maxLength={60}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' || !text.trim()) return;
        onAdd(text.trim());
        setText('');
      }}
    />
  );
}

/** What the words stand for in the next trial. */
function useNextValues(): NameValues {
  const { recipe, setup, trials } = usePath();
  const now = new Date();
  const two = (n: number): string => String(n).padStart(2, '0');
  return {
    game: setup.game.title,
    setup: setup.name,
    kind: 'trial',
    number: String(Math.max(0, ...trials.map((t) => t.number)) + 1),
    recipe: String((setup.versions.at(-1)?.number ?? 0) + 1),
    size: formatSize(recipe.size.widthPx, recipe.size.heightPx).replace('×', 'x'),
    day: `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`,
    time: now.toTimeString().slice(0, 8).replaceAll(':', '.'),
  };
}
