import { useEffect, useState } from 'react';
import type { Look } from '@mellow/core';
import type { GrabbedSource, ScreenLook } from '@mellow/model';
import { useLookQuery } from '../../store/api';
import { problemOf } from '../../store/problemOf';

const lookEveryMs = 1000;
const keptLooks = 10;

type Seen = Look & { look: ScreenLook };

/** Looks at a source once a second while it is on. */
export function useLooks(source: GrabbedSource, on: boolean): { looks: readonly Seen[]; problem: string | null } {
  const { data, error, fulfilledTimeStamp } = useLookQuery(source, { pollingInterval: lookEveryMs, skip: !on });
  const [looks, setLooks] = useState<readonly Seen[]>([]);
  const of = JSON.stringify(source);
  // What was seen of another source says nothing of this one.
  useEffect(() => setLooks([]), [of]);
  useEffect(() => {
    if (data && fulfilledTimeStamp !== undefined)
      setLooks((before) => [...before, { atMs: fulfilledTimeStamp, look: data }].slice(-keptLooks));
  }, [data, fulfilledTimeStamp]);
  return { looks, problem: error ? problemOf(error).detail : null };
}
