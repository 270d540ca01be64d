import { useState } from 'react';
import { formatBytes, plural } from '@mellow/core';
import type { DriveFacts } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Message } from '../../parts/Message';
import { WordMenu } from '../../parts/WordMenu';
import { useMoveTakesMutation } from '../../store/api';
import { problemOf } from '../../store/problemOf';

/** Takes of one folder go to another, in the same subfolders; nothing is left half way. */
export function MoveTakes({ drives }: { drives: readonly DriveFacts[] }) {
  const from = drives.filter(({ takesBytes, problem }) => takesBytes > 0 && problem === null);
  const [fromId, setFrom] = useState<string | null>(null);
  const [toId, setTo] = useState<string | null>(null);
  const [move, moving] = useMoveTakesMutation();
  const chosen = from.find(({ id }) => id === fromId) ?? from[0];
  const others = drives.filter(({ id, problem }) => id !== chosen?.id && problem === null);
  const to = others.find(({ id }) => id === toId) ?? others[0];
  if (!chosen || !to) return null;
  const result = moving.data;
  return (
    <div className="move-takes">
      <p className="small">
        <span className="soft">Move the {formatBytes(chosen.takesBytes)} of takes on</span>{' '}
        <WordMenu
          label="Move from"
          word={chosen.name}
          value={chosen.id}
          choices={from.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setFrom}
        />{' '}
        <span className="soft">to</span>{' '}
        <WordMenu
          label="Move to"
          word={to.name}
          value={to.id}
          choices={others.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setTo}
        />{' '}
        <Button quiet busy={moving.isLoading} onClick={() => void move({ from: chosen.id, to: to.id })}>
          Move them
        </Button>
      </p>
      {moving.isError && (
        <Message tone="loss" title={problemOf(moving.error).title}>
          {problemOf(moving.error).detail}
        </Message>
      )}
      {result && (
        <p className="small" role="status">
          {plural(result.moved, 'file')} moved.{' '}
          {result.left.length > 0 &&
            `${plural(result.left.length, 'file')} stayed: ${result.left[0]?.path ?? ''}, ${result.left[0]?.why ?? ''}`}
        </p>
      )}
    </div>
  );
}
