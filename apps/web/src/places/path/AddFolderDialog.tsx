import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Button } from '../../parts/Button';
import { Message } from '../../parts/Message';
import { useAddDriveMutation } from '../../store/driveApi';
import { problemOf } from '../../store/problemOf';

/** Adds a folder for takes; with a quota it is a stand-in for a drive that fills. */
export function AddFolderDialog({ onClose, onAdded }: { onClose: () => void; onAdded: (id: string) => void }) {
  const [name, setName] = useState('');
  const [folder, setFolder] = useState('');
  const [quotaMb, setQuotaMb] = useState('');
  const [make, setMake] = useState(false);
  const [add, adding] = useAddDriveMutation();
  const quota = quotaMb.trim() === '' ? null : Number(quotaMb);
  const fits = name.trim() !== '' && folder.trim() !== '' && (quota === null || quota >= 0.1);
  const submit = async () => {
    const result = await add({
      name: name.trim(),
      folder: folder.trim(),
      quotaBytes: quota === null ? null : Math.round(quota * 1e6),
      make,
    });
    if (result.data) {
      onAdded(result.data.id);
      onClose();
    }
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="folder-title">
      <form
        className="dialog"
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <h2 id="folder-title">Add a folder for takes</h2>
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} size="small" autoFocus />
        <TextField
          label="Folder, from the root of the drive on"
          value={folder}
          onChange={(e) => setFolder(e.target.value)}
          size="small"
        />
        <FormControlLabel
          control={<Checkbox size="small" checked={make} onChange={(e) => setMake(e.target.checked)} />}
          label="Make the folder if it is not there"
        />
        <TextField
          label="Quota in MB, for a stand-in drive"
          value={quotaMb}
          onChange={(e) => setQuotaMb(e.target.value)}
          size="small"
          inputMode="decimal"
          helperText="Leave it empty for a real drive. With a quota the folder plays a drive that gets full."
        />
        {adding.isError && (
          <Message tone="loss" title={problemOf(adding.error).title}>
            {problemOf(adding.error).detail}
          </Message>
        )}
        <div className="dialog-actions">
          <Button onClick={onClose}>Cancel</Button>
          <Button main type="submit" disabled={!fits} busy={adding.isLoading}>
            Add the folder
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
