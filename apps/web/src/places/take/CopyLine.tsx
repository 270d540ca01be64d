import { discardBytes, discardsGoAt, formatBytes } from '@mellow/core';
import { fileOf, type Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { LeftThere } from '../../parts/LeftThere';
import { dayOf } from '../../parts/dayOf';
import { useBringBackMutation, useDiscardMutation, useEmptyDiscardsMutation } from '../../store/api';

const kindOf = (path: string): string => (path.endsWith('.mp4') ? 'MP4' : 'Matroska');

/** A copy beside the take that could take its place, or what lies in the discards since one did. */
export function CopyLine({ take }: { take: Take }) {
  const copy = fileOf(take, 'copy');
  if (take.discarded) return <Discarded take={take} />;
  if (!copy || take.state !== 'closed') return null;
  return <Offer take={take} what={take.filePath.endsWith('.mp4') ? 'plain MP4' : kindOf(copy.path)} />;
}

function Offer({ take, what }: { take: Take; what: string }) {
  const [discard, { isLoading }] = useDiscardMutation();
  return (
    <p className="take-against">
      One {what} lies beside the take.{' '}
      <Button quiet busy={isLoading} onClick={() => void discard(take.id)}>
        Keep only the {what}
      </Button>{' '}
      <span className="soft">it is compared byte by byte first; what it replaces can be brought back for a week</span>
    </p>
  );
}

function Discarded({ take }: { take: Take }) {
  const [bringBack, bringing] = useBringBackMutation();
  const [empty, emptying] = useEmptyDiscardsMutation();
  const goes = discardsGoAt(take);
  const files = take.files.filter(({ role }) => role === 'discard').length;
  return (
    <p className="take-against">
      The {kindOf(take.filePath)} is the take, the same in every byte of every track.{' '}
      {files === 1 ? 'The file' : `The ${files} files`} before it,{' '}
      <span className="n">{formatBytes(discardBytes(take))}</span>, {files === 1 ? 'lies' : 'lie'} in the discards until{' '}
      {goes && dayOf(goes)}.{' '}
      <Button quiet busy={bringing.isLoading} onClick={() => void bringBack(take.id)}>
        Bring it back
      </Button>
      <Button quiet busy={emptying.isLoading} onClick={() => void empty(take.id)}>
        Empty it now
      </Button>
      <LeftThere removal={emptying.data} />
    </p>
  );
}
