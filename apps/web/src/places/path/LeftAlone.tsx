import { isLeftAlone } from '@mellow/core';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { ProgramField } from '../../parts/ProgramField';
import { WordEditor } from '../../parts/WordMenu';
import { useLeftAloneQuery, useSetLeftAloneMutation } from '../../store/api';
import { PlainRow } from './SettingRow';

/** Programs whose windows are never recorded, and that never begin a take; for all setups. @param shown one that is chosen now */
export function LeftAlone({ shown }: { shown: string | null }) {
  const { data: names = [] } = useLeftAloneQuery();
  const [set, { isLoading }] = useSetLeftAloneMutation();
  const without = (name: string) => void set(names.filter((one) => one !== name));
  const add = (name: string) => void set([...names, name]);
  return (
    <PlainRow
      label="Left alone"
      under={
        names.length > 0 && (
          <p className="small soft">
            In every setup: no window of theirs is offered, and no take begins with them. A whole display shows them all
            the same.
          </p>
        )
      }
    >
      {names.length === 0 && <span className="soft">no program</span>}
      {names.map((name) => (
        <Button key={name} quiet busy={isLoading} label={`Let ${name} be recorded again`} onClick={() => without(name)}>
          {name}
          <Icon name="cross" />
        </Button>
      ))}
      <WordEditor label="Program to leave alone" word="add one">
        {(close) => (
          <ProgramField
            name={shown ?? ''}
            choose={(name) => {
              close();
              if (!isLeftAlone(names, name)) add(name);
            }}
          />
        )}
      </WordEditor>
    </PlainRow>
  );
}
