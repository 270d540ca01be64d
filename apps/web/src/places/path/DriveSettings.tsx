import { useState } from 'react';
import { formatBytes, formatMegabytesPerSecond } from '@mellow/core';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { useMeasureDriveMutation, useRemoveDriveMutation } from '../../store/api';
import { AddFolderDialog } from './AddFolderDialog';
import type { StationSettingsProps } from './StationSheet';

export function DriveSettings({ setup, drives, onRecipe }: StationSettingsProps) {
  const [adding, setAdding] = useState(false);
  const [measure, measuring] = useMeasureDriveMutation();
  const [remove] = useRemoveDriveMutation();
  const recipe = setup.draft;
  return (
    <>
      <table className="folder-table">
        <thead>
          <tr><th style={{ width: 24 }} /><th>folder</th><th>kind</th><th className="right">free</th><th className="right">writes, measured</th><th /></tr>
        </thead>
        <tbody role="radiogroup" aria-label="Drive">
          {drives.map((drive) => {
            const on = drive.id === recipe.driveId;
            return (
              <tr key={drive.id} className={on ? 'on' : ''}>
                <td><button type="button" role="radio" aria-checked={on} aria-label={drive.name} className="dot" onClick={() => onRecipe({ ...recipe, driveId: drive.id })} /></td>
                <td>{drive.name}<div className="small soft clip" style={{ maxWidth: 260, fontWeight: 400, marginTop: -8, marginBottom: 4 }} title={drive.folder}>{drive.problem ?? drive.folder}</div></td>
                <td className="soft">{drive.kind}</td>
                <td className="right n">{drive.freeBytes === null ? '?' : formatBytes(drive.freeBytes)}</td>
                <td className="right n">{drive.writeBytesPerSecond === null ? <Button quiet busy={measuring.isLoading && measuring.originalArgs === drive.id} onClick={() => void measure(drive.id)}>Measure, 3 s</Button> : formatMegabytesPerSecond(drive.writeBytesPerSecond)}</td>
                <td className="right">{!on && drive.id !== 'footage' && <Button quiet label={`Take ${drive.name} off the list`} onClick={() => void remove(drive.id)}><Icon name="cross" /></Button>}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {!drives.some((d) => d.id === recipe.driveId) && <p className="over small">The drive of this recipe is not on the list any more. Choose another.</p>}
      <p style={{ marginTop: 8 }}>
        <Button quiet onClick={() => setAdding(true)}><Icon name="plus" />Add a folder</Button>
        <span className="soft small" style={{ marginLeft: 16 }}>Takes lie in a folder of the setup’s name; nothing else on the drive is touched.</span>
      </p>
      {adding && <AddFolderDialog onClose={() => setAdding(false)} onAdded={(id) => onRecipe({ ...recipe, driveId: id })} />}
    </>
  );
}
