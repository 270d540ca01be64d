import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { useOpenFolderMutation } from '../../store/api';

/** Shows where a take lies in the system's own file manager; where that cannot be, its path is told. */
export function OpenFolder({ takeId }: { takeId: string }) {
  const [open, { isLoading }] = useOpenFolderMutation();
  return (
    <Button quiet busy={isLoading} label="Open its folder" onClick={() => void open(takeId)}>
      <Icon name="folder" />
    </Button>
  );
}
