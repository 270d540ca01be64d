import Dialog from '@mui/material/Dialog';
import { capitalised, formatBytes, takeName } from '@mellow/core';
import type { Take } from '@mellow/model';
import { useRemoveTakeMutation } from '../store/api';
import { Button } from './Button';

const roleWords = {
  take: 'its file',
  copy: 'its MP4',
  open: 'its unclosed file',
  camera: 'its camera’s file',
  discard: 'its discards',
} as const;

/** Everything that a deletion removes, by name. */
function whatGoes({ files }: Take): string {
  const words = [...new Set(files.map((file) => roleWords[file.role])), 'its ledger', 'what the player made of it'];
  return capitalised(`${words.slice(0, -1).join(', ')} and ${words.at(-1)}`);
}

/** A dialog stands only where nothing can be undone. */
export function DeleteTakeDialog({
  take,
  onClose,
  onDeleted,
}: {
  take: Take;
  onClose: () => void;
  onDeleted?: () => void;
}) {
  const [remove, removing] = useRemoveTakeMutation();
  const act = async () => {
    const result = await remove(take.id);
    onClose();
    if (!('error' in result)) onDeleted?.();
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="delete-title">
      <div className="dialog">
        <h2 id="delete-title">
          Delete {takeName(take)}
          {take.facts ? `, ${formatBytes(take.facts.bytes)}` : ''}?
        </h2>
        <p className="soft">{whatGoes(take)} cannot be brought back. The recipe stays.</p>
        <div className="dialog-actions">
          <Button onClick={onClose} autoFocus>
            Leave it
          </Button>
          <Button danger busy={removing.isLoading} onClick={() => void act()}>
            Delete {takeName(take)}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
