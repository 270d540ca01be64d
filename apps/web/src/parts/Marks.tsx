import { formatDuration } from '@mellow/core';
import type { Take } from '@mellow/model';
import { useNameMarkMutation, useRemoveMarkMutation } from '../store/api';
import { Icon } from './Icon';
import { TypedField } from './NumberField';
import { WordEditor } from './WordMenu';
import './Marks.css';

const mostSigns = 200;

/** Marks of a take with their notes, which are changed in place. @param onJump leads the player there, where there is one */
export function Marks({ take, onJump }: { take: Pick<Take, 'id' | 'marks'>; onJump?: (seconds: number) => void }) {
  const [name] = useNameMarkMutation();
  const [remove] = useRemoveMarkMutation();
  return (
    <ul className="marks-list">
      {take.marks.map(({ id, atUs, note }) => {
        const at = formatDuration(atUs / 1e6);
        return (
          <li key={id}>
            <Icon name="flag" />
            {onJump ? (
              <button type="button" className="link n" onClick={() => onJump(atUs / 1e6)}>
                {at}
              </button>
            ) : (
              <span className="n">{at}</span>
            )}
            <span className="clip">
              <WordEditor label={`Note of the mark at ${at}`} word={note || 'add a note'}>
                {(close) => (
                  <TypedField
                    wide
                    label="Note"
                    text={note}
                    parse={(text) =>
                      text.trim().length <= mostSigns
                        ? { value: text.trim() }
                        : { problem: `A note has ${mostSigns} signs at most.` }
                    }
                    onChange={(next: string) => {
                      void name({ takeId: take.id, markId: id, note: next });
                      close();
                    }}
                  />
                )}
              </WordEditor>
            </span>
            <button
              type="button"
              className="link soft push"
              aria-label={`Take the mark at ${at} away`}
              onClick={() => void remove({ takeId: take.id, markId: id })}
            >
              <Icon name="cross" />
            </button>
          </li>
        );
      })}
    </ul>
  );
}
