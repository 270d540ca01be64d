import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';

export interface MenuAction {
  label: string;
  act: () => void;
}

/** A list of things that can be done; it closes before one of them is. */
export function ActionMenu({
  anchor,
  label,
  actions,
  onClose,
}: {
  anchor: HTMLElement | null;
  label: string;
  actions: readonly MenuAction[];
  onClose: () => void;
}) {
  return (
    <Menu open={anchor !== null} anchorEl={anchor} onClose={onClose} aria-label={label}>
      {actions.map((action) => (
        <MenuItem
          key={action.label}
          onClick={() => {
            onClose();
            action.act();
          }}
        >
          {action.label}
        </MenuItem>
      ))}
    </Menu>
  );
}
