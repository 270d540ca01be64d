import Dialog from '@mui/material/Dialog';
import { formatBytes } from '@mellow/core';
import type { Take } from '@mellow/model';
import { useRemoveTakeMutation } from '../store/api';
import { Button } from './Button';

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
          Delete trial {take.number}
          {take.facts ? `, ${formatBytes(take.facts.bytes)}` : ''}?
        </h2>
        <p className="soft">Its file and its ledger go from the drive and cannot be brought back. The recipe stays.</p>
        <div className="dialog-actions">
          <Button onClick={onClose} autoFocus>
            Leave it
          </Button>
          <Button danger busy={removing.isLoading} onClick={() => void act()}>
            Delete trial {take.number}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
