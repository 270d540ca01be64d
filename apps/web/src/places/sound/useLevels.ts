import { useEffect, useRef, useState } from 'react';
import type { HeardLevels, Listening, LiveTake, SoundSource } from '@mellow/model';
import { useSoundLevelsQuery } from '../../store/api';
import { problemOf } from '../../store/problemOf';
import type { ShownLevels } from './soundContext';

const pollMs = 120;
const heldMs = 3000;
const historyMs = 10_000;

interface Seen {
  atMs: number;
  levels: HeardLevels;
}
const nothing: HeardLevels = { sounds: [], lanes: [] };

/** Levels of a recipe's sounds and lanes: by listening, or by the take that rolls, which has the devices then; nothing is asked while another is made. */
export function useLevels(
  to: Listening,
  live: LiveTake | null,
  busy: boolean,
): { levels: ShownLevels; trouble: string | null } {
  const { data, error } = useSoundLevelsQuery(to, { pollingInterval: pollMs, skip: live !== null || busy });
  const seen = useRef<Seen[]>([]);
  const [levels, setLevels] = useState<ShownLevels>(() => shownOf([]));
  const now = live ? levelsOf(live) : data;
  useEffect(() => {
    if (!now || now.sounds.length === 0) return;
    const atMs = performance.now();
    seen.current = [...seen.current.filter((one) => atMs - one.atMs < historyMs), { atMs, levels: now }];
    setLevels(shownOf(seen.current));
  }, [now]);
  return { levels, trouble: error && !live ? problemOf(error).detail : null };
}

function levelsOf(live: LiveTake): HeardLevels {
  return {
    sounds: live.sounds,
    lanes: live.lanePeakDbfs.map((peakDbfs, i) => ({ peakDbfs, loudnessLufs: live.laneLufs[i] ?? null })),
  };
}

function shownOf(seen: readonly Seen[]): ShownLevels {
  const last = seen.at(-1);
  const held = last ? seen.filter(({ atMs }) => last.atMs - atMs < heldMs) : [];
  const highest = (peaks: (number | null | undefined)[]): number | null => {
    const known = peaks.filter((peak) => peak !== null && peak !== undefined);
    return known.length ? Math.max(...known) : null;
  };
  const of = (levels: HeardLevels, id: SoundSource) => levels.sounds.find((sound) => sound.id === id);
  return {
    now: last?.levels ?? nothing,
    heldPeak: (id) => highest(held.map(({ levels }) => of(levels, id)?.peakDbfs)),
    heldLanePeak: (lane) => highest(held.map(({ levels }) => levels.lanes[lane]?.peakDbfs)),
    history: (id) => seen.map(({ levels }) => of(levels, id)?.rmsDbfs ?? null),
  };
}
