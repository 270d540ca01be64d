import type { KeyboardEvent } from 'react';
import { mostNextDrives, type DriveFacts, type Parts, type Recipe } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { usePath } from './pathContext';
import { SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

const kinds = { none: 'one file', length: 'by length', size: 'by size', striped: 'striped' } as const;
/** What a choice begins with. */
const begins: Record<Parts['by'], Parts> = {
  none: { by: 'none' },
  length: { by: 'length', minutes: 30 },
  size: { by: 'size', megabytes: 4000 },
  striped: { by: 'striped', shares: 'by-speed' },
};

/** Whether a take is one file, several one after the other, or spread over several folders at once. */
export function PartsSettings() {
  const { recipe, setup } = usePath();
  const { parts } = recipe;
  const considering = useConsidering('parts', (value: Parts): Recipe => ({ ...recipe, parts: value }));
  return (
    <SettingRow setting="parts" label={parts.by === 'striped' ? 'Takes, trials too' : 'Full takes'}>
      <Rail
        label="Full takes"
        hue="drive"
        value={parts.by}
        start={setup.start.parts.by}
        choices={(['none', 'length', 'size', 'striped'] as const).map((by) => ({ value: by, label: kinds[by] }))}
        onChange={(by) => considering.onChange(begins[by])}
      />
      {parts.by === 'length' && (
        <NumberField
          label="A new file every"
          value={parts.minutes}
          min={1}
          max={600}
          unit="min"
          onChange={(minutes) => considering.onChange({ by: 'length', minutes })}
        />
      )}
      {parts.by === 'size' && (
        <NumberField
          label="Files of"
          value={parts.megabytes}
          min={100}
          max={1_000_000}
          unit="MB"
          onChange={(megabytes) => considering.onChange({ by: 'size', megabytes })}
        />
      )}
      {parts.by === 'striped' && (
        <Rail
          label="Shares of each folder"
          hue="drive"
          value={parts.shares}
          start={setup.start.parts.by === 'striped' ? setup.start.parts.shares : 'by-speed'}
          choices={[
            { value: 'by-speed', label: 'by speed' },
            { value: 'equal', label: 'equal' },
          ]}
          onChange={(shares) => considering.onChange({ by: 'striped', shares })}
        />
      )}
    </SettingRow>
  );
}

/** The drives that take over when one is full, in their order; for a striped take those that it is spread over. */
export function NextDrives() {
  const { recipe, context, change } = usePath();
  const { nextDriveIds } = recipe;
  const set = (next: string[]) => change({ ...recipe, nextDriveIds: next });
  const more = context.drives.filter(({ id }) => id !== recipe.driveId && !nextDriveIds.includes(id));
  const striped = recipe.parts.by === 'striped';
  const note = striped
    ? 'block by block to all at once, until the first is full'
    : nextDriveIds.length
      ? null
      : 'a take whose drive is full is closed and ends';
  return (
    <SettingRow setting="nextDrives" label={striped ? 'Spread over' : 'When it is full'} note={note}>
      <div className="name-pattern">
        {nextDriveIds.length > 0 && (
          <ol
            className="name-pills"
            aria-label={striped ? 'Other drives it is spread over' : 'Drives that take over, in this order'}
          >
            {nextDriveIds.map((id, at) => (
              <NextDrive
                key={id}
                drive={context.drives.find((drive) => drive.id === id)}
                ids={nextDriveIds}
                at={at}
                numbered={!striped}
                onChange={set}
              />
            ))}
          </ol>
        )}
        {more.length > 0 && nextDriveIds.length < mostNextDrives && (
          <span className="name-words">
            <span className="soft small">{striped ? 'and' : nextDriveIds.length ? 'then' : 'go on in'}</span>
            {more.map(({ id, name }) => (
              <button
                key={id}
                type="button"
                className="link small"
                aria-label={striped ? `Spread over ${name} too` : `Go on in ${name}`}
                onClick={() => set([...nextDriveIds, id])}
              >
                {name}
              </button>
            ))}
          </span>
        )}
        {!more.length && !nextDriveIds.length && (
          <span className="soft small">There is no other folder; add one above.</span>
        )}
      </div>
    </SettingRow>
  );
}

interface NextDriveProps {
  /** Undefined where it is not on the list any more. */
  drive: DriveFacts | undefined;
  ids: readonly string[];
  at: number;
  /** Their order counts. */
  numbered: boolean;
  onChange: (next: string[]) => void;
}

/** One of them: arrow keys move it, Delete takes it out. */
function NextDrive({ drive, ids, at, numbered, onChange }: NextDriveProps) {
  const id = ids[at] ?? '';
  const name = drive?.name ?? 'a folder that is gone';
  const without = ids.filter((_, i) => i !== at);
  const onKey = (event: KeyboardEvent) => {
    const to = { ArrowLeft: at - 1, ArrowRight: at + 1 }[event.key];
    if (to !== undefined && to >= 0 && to < ids.length) onChange(without.toSpliced(to, 0, id));
    else if (event.key === 'Delete' || event.key === 'Backspace') onChange([...without]);
    else return;
    event.preventDefault();
  };
  return (
    <li className="name-pill">
      <span tabIndex={0} role="button" aria-label={`${at + 1}: ${name}, arrow keys move it`} onKeyDown={onKey}>
        {numbered && `${at + 1}. `}
        {name}
        {drive?.problem && <span className="over small"> {drive.problem}</span>}
      </span>
      <button type="button" aria-label={`Take out ${name}`} onClick={() => onChange([...without])}>
        <Icon name="cross" size={12} />
      </button>
    </li>
  );
}
