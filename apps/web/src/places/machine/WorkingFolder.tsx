import { useState } from 'react';
import { formatBytes, plural } from '@mellow/core';
import type { DriveState } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Message } from '../../parts/Message';
import { WordMenu } from '../../parts/WordMenu';
import { useEmptyCopiesMutation, useSetWorkingMutation, useWorkingQuery } from '../../store/driveApi';
import { problemOf } from '../../store/problemOf';
import { AddFolderDialog } from '../path/AddFolderDialog';

const none = 'none';
const another = 'another';

/** Where what is only made in between lies, so that it does not write to the drive that a take goes to. */
export function WorkingFolder({ drives }: { drives: readonly DriveState[] }) {
  const { data: working } = useWorkingQuery();
  const [set, setting] = useSetWorkingMutation();
  const [empty, emptying] = useEmptyCopiesMutation();
  const [adding, setAdding] = useState(false);
  if (!working) return null;
  const chosen = drives.find(({ id }) => id === working.driveId);
  return (
    <div className="machine-working">
      <p>
        <b>Working folder:</b>{' '}
        <WordMenu
          label="Working folder"
          word={chosen?.name ?? 'none of its own'}
          value={working.driveId ?? none}
          choices={[
            { value: none, label: 'none of its own' },
            ...drives.filter(({ id }) => id !== 'demo').map(({ id, name }) => ({ value: id, label: name })),
            { value: another, label: 'another folder \u2026' },
          ]}
          onChange={(value) => (value === another ? setAdding(true) : void set(value === none ? null : value))}
        />
      </p>
      <p className="soft">
        {chosen
          ? `Held minutes that wait on a drive and copies for playing lie in ${chosen.folder}.`
          : 'Held minutes that wait on a drive lie with the takes, copies for playing with the application’s data.'}
      </p>
      {!working.problem && (
        <p className="soft small">
          {working.copies
            ? `${plural(working.copies, 'copy', 'copies')} for playing, ${formatBytes(working.copiesBytes)}; each is made anew when it is asked for. `
            : 'No copies for playing lie there now.'}
          {working.copies > 0 && (
            <Button quiet busy={emptying.isLoading} onClick={() => void empty()}>
              Remove them
            </Button>
          )}
        </p>
      )}
      {working.problem && (
        <Message tone="loss" title="The working folder is away">
          {working.problem}
        </Message>
      )}
      {setting.isError && (
        <Message tone="loss" title={problemOf(setting.error).title}>
          {problemOf(setting.error).detail}
        </Message>
      )}
      {adding && <AddFolderDialog onClose={() => setAdding(false)} onAdded={(id) => void set(id)} />}
    </div>
  );
}
