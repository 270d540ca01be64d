import { discardBytes, discardsGoAt, formatBytes } from '@mellow/core';
import type { Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { LeftThere } from '../../parts/LeftThere';
import { dayOf } from '../../parts/dayOf';
import { useEmptyDiscardsMutation } from '../../store/api';

/** What lies in the discards of all takes, and when it goes. */
export function Discards({ takes }: { takes: readonly Take[] }) {
  const [empty, { isLoading, data }] = useEmptyDiscardsMutation();
  const goes = takes.flatMap((take) => discardsGoAt(take) ?? []).sort((a, b) => a.getTime() - b.getTime());
  const [first] = goes;
  if (!first) return null;
  const bytes = takes.reduce((sum, take) => sum + discardBytes(take), 0);
  return (
    <p className="takes-discards">
      Discards of {goes.length === 1 ? 'one take' : `${goes.length} takes`},{' '}
      <span className="n">{formatBytes(bytes)}</span>: {goes.length === 1 ? 'they go' : 'the first go'} on{' '}
      {dayOf(first)}.{' '}
      <Button quiet busy={isLoading} onClick={() => void empty(null)}>
        Empty them now
      </Button>
      <LeftThere removal={data} />
    </p>
  );
}
