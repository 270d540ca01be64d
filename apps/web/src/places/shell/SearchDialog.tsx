import Autocomplete from '@mui/material/Autocomplete';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useNavigate } from 'react-router';
import { takeName } from '@mellow/core';
import { useSetupsQuery, useTakesQuery } from '../../store/api';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { keysToggled, searchToggled } from '../../store/uiSlice';

interface Target {
  label: string;
  group: string;
  act: () => void;
}

/** Places, setups, takes and actions by their names. */
export function SearchDialog() {
  const open = useAppSelector((state) => state.ui.searchShown);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { data: setups = [] } = useSetupsQuery();
  const { data: takes = [] } = useTakesQuery();
  const close = () => dispatch(searchToggled());
  const to = (path: string) => () => void navigate(path);
  const targets: Target[] = [
    { label: 'Start', group: 'Places', act: to('/') },
    { label: 'Setups', group: 'Places', act: to('/setups') },
    { label: 'Takes', group: 'Places', act: to('/takes') },
    { label: 'Machine', group: 'Places', act: to('/machine') },
    ...setups.flatMap((s) => [
      { label: `${s.name}, brief`, group: 'Setups', act: to(`/setups/${s.id}/brief`) },
      { label: `${s.name}, path`, group: 'Setups', act: to(`/setups/${s.id}/path`) },
      { label: `${s.name}, sound`, group: 'Setups', act: to(`/setups/${s.id}/sound`) },
      { label: `${s.name}, trials`, group: 'Setups', act: to(`/setups/${s.id}/trials`) },
    ]),
    ...takes.map((t) => ({
      label: `${setups.find((s) => s.id === t.setupId)?.name ?? 'Setup'}, ${takeName(t)}`,
      group: 'Takes',
      act: to(`/takes/${t.id}`),
    })),
    ...setups.map((s) => ({ label: `Recipe card of ${s.name}`, group: 'Actions', act: to(`/setups/${s.id}/card`) })),
    { label: 'Show the keys', group: 'Actions', act: () => void dispatch(keysToggled()) },
  ];
  return (
    <Dialog
      open={open}
      onClose={close}
      fullWidth
      maxWidth="sm"
      aria-label="Find"
      sx={{ '& .MuiDialog-container': { alignItems: 'flex-start' } }}
    >
      <Autocomplete
        open
        autoHighlight
        options={targets}
        groupBy={(target) => target.group}
        getOptionKey={(target) => `${target.group} ${target.label}`}
        slotProps={{
          popper: {
            disablePortal: true,
            sx: { position: 'static !important', transform: 'none !important', width: '100% !important' },
          },
        }}
        onChange={(_, target) => {
          close();
          target?.act();
        }}
        renderInput={(params) => (
          <TextField
            {...params}
            autoFocus
            placeholder="Find a place, setup, take or action"
            variant="standard"
            sx={{ p: 2 }}
          />
        )}
      />
    </Dialog>
  );
}
