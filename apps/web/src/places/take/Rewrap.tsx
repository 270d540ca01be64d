import { mp4Trouble } from '@mellow/core';
import { partsOf, type Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { useRewrapTakeMutation } from '../../store/api';
import { CopyPath } from './CopyPath';

/** An MP4 took the place of a Matroska: there is nothing left to make one of. */
const isMp4InItsPlace = ({ recipe, filePath }: Take): boolean =>
  recipe.container === 'matroska' && filePath.endsWith('.mp4');

/** A plain MP4 beside the take, its tracks copied and read back; the take stays as it is. */
export function Rewrap({ take }: { take: Take }) {
  const [rewrap, { isLoading }] = useRewrapTakeMutation();
  if (
    !take.facts ||
    take.recipe.container === 'mp4' ||
    take.discarded !== null ||
    isMp4InItsPlace(take) ||
    partsOf(take).length > 1
  )
    return null;
  const copy = take.files.findLast(({ role }) => role === 'copy');
  if (copy) return <CopyPath path={copy.path} what="MP4" />;
  const trouble = mp4Trouble(take.recipe);
  if (trouble !== null) return <span className="soft small">No MP4: {trouble.what}</span>;
  return (
    <Button quiet busy={isLoading} onClick={() => void rewrap({ id: take.id })}>
      Make an MP4
    </Button>
  );
}
