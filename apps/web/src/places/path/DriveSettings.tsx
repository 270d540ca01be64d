import { useState } from 'react';
import { formatBytes, formatMegabytesPerSecond, sessionsThatFit, sharedWithGame, subfolderWords } from '@mellow/core';
import { subfolders, type DriveFacts, type Recipe, type Subfolder } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { useMeasureDriveMutation, useRemoveDriveMutation } from '../../store/driveApi';
import { AddFolderDialog } from './AddFolderDialog';
import { DriveTests } from './DriveTests';
import { MoveTakes } from './MoveTakes';
import { NextDrives, PartsSettings } from './PartsSettings';
import { NamePattern } from './NamePattern';
import { usePath } from './pathContext';
import { sessionWords } from './pathWords';
import { SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';
import { QuietHeading } from '../../parts/QuietHeading';

const ceilings = ['none', '20', '45', '90', '180', '360'] as const;

export function DriveSettings() {
  const { recipe, setup } = usePath();
  const subfolder = useConsidering('subfolder', (value: Subfolder): Recipe => ({
    ...recipe,
    file: { ...recipe.file, subfolder: value },
  }));
  const ceiling = useConsidering('ceilingMinutes', (minutes: number | null): Recipe => ({
    ...recipe,
    ceilingMinutes: minutes,
  }));
  const { start } = setup;
  return (
    <>
      <Folders />
      <NextDrives />
      <PartsSettings />
      <SettingRow setting="subfolder" label="Subfolder">
        <Rail
          label="Subfolder"
          hue="drive"
          value={recipe.file.subfolder}
          start={start.file.subfolder}
          choices={subfolders.map((s) => ({ value: s, label: subfolderWords[s] }))}
          onChange={subfolder.onChange}
        />
      </SettingRow>
      <NamePattern />
      <SettingRow setting="ceilingMinutes" label="Ends after">
        <Rail
          label="Ends after"
          hue="drive"
          value={ceilings.find((c) => c === String(recipe.ceilingMinutes ?? 'none')) ?? null}
          start={ceilings.find((c) => c === String(start.ceilingMinutes ?? 'none'))}
          choices={ceilings.map((c) => ({ value: c, label: c === 'none' ? 'no ceiling' : sessionWords(Number(c)) }))}
          onChange={(c) => ceiling.onChange(c === 'none' ? null : Number(c))}
        />
        {recipe.ceilingMinutes !== null && (
          <NumberField
            label="Ends after, typed"
            value={recipe.ceilingMinutes}
            min={1}
            max={1440}
            unit="min"
            onChange={ceiling.onChange}
          />
        )}
      </SettingRow>
    </>
  );
}

/** Folders and drives a take may lie on, with room, speed and how many sessions fit. */
function Folders() {
  const { recipe, setup, context, forecast, machine, change } = usePath();
  const [adding, setAdding] = useState(false);
  const [measure, measuring] = useMeasureDriveMutation();
  const [remove] = useRemoveDriveMutation();
  const minutes = setup.brief.sessionMinutes;
  const simulated = machine?.origin === 'simulated';
  const choose = (driveId: string) => change({ ...recipe, driveId });
  const fits = (drive: DriveFacts) =>
    drive.freeBytes === null ? null : sessionsThatFit(drive.freeBytes, forecast.bits.value / 8, minutes, recipe.rewrap);
  return (
    <>
      <table className="folder-table">
        <thead>
          <tr>
            <QuietHeading name="chosen" />
            <th>{simulated ? 'drive, simulated' : 'folder'}</th>
            <th>kind</th>
            <th className="right">free</th>
            <th className="right">{simulated ? 'writes, assumed' : 'writes'}</th>
            <th className="right">fits of {sessionWords(minutes)}</th>
            <QuietHeading name="what speaks against it" />
            <QuietHeading name="actions" />
          </tr>
        </thead>
        <tbody role="radiogroup" aria-label="Drive">
          {context.drives.map((drive) => {
            const on = drive.id === recipe.driveId;
            const shared = sharedWithGame(drive, setup.game.facts.driveId, context.drives);
            return (
              <tr key={drive.id} className={on ? 'on' : ''}>
                <td>
                  <button
                    type="button"
                    role="radio"
                    aria-checked={on}
                    aria-label={drive.name}
                    className="dot"
                    onClick={() => choose(drive.id)}
                  />
                </td>
                <td>
                  <span title={drive.folder ?? undefined}>{drive.name}</span>
                  {drive.problem && <span className="over small"> {drive.problem}</span>}
                </td>
                <td className="soft">{drive.kind}</td>
                <td className="right n">{drive.freeBytes === null ? '?' : formatBytes(drive.freeBytes)}</td>
                <td className="right n">
                  {drive.writeBytesPerSecond !== null ? (
                    formatMegabytesPerSecond(drive.writeBytesPerSecond)
                  ) : simulated ? (
                    '?'
                  ) : (
                    <Button
                      quiet
                      busy={measuring.isLoading && measuring.originalArgs === drive.id}
                      onClick={() => void measure(drive.id)}
                    >
                      Test it
                    </Button>
                  )}
                </td>
                <td className="right n">{fits(drive) ?? '?'}</td>
                <td className="soft small">{shared === true ? 'the game reads here' : ''}</td>
                <td className="right">
                  {!on && !simulated && drive.id !== 'footage' && (
                    <Button quiet label={`Take ${drive.name} off the list`} onClick={() => void remove(drive.id)}>
                      <Icon name="cross" />
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {!context.drives.some((d) => d.id === recipe.driveId) && (
        <p className="over small">The drive of this recipe is not on the list. Choose another.</p>
      )}
      <p className="folder-add">
        {simulated ? (
          <span className="soft small">
            These drives belong to {machine.name}, a simulated machine. What its trials really write lies on this PC.
          </span>
        ) : (
          <>
            <Button quiet onClick={() => setAdding(true)}>
              <Icon name="plus" />
              Add a folder
            </Button>
            <span className="soft small">
              A fit counts what is free now{recipe.rewrap ? ', and the MP4 made afterwards' : ''}.
            </span>
          </>
        )}
      </p>
      {!simulated && <DriveTests drives={context.drives} needBytesPerSecond={forecast.bits.value / 8} />}
      {!simulated && <MoveTakes drives={context.drives} />}
      {adding && <AddFolderDialog onClose={() => setAdding(false)} onAdded={choose} />}
    </>
  );
}
