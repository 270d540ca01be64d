import { bytesParts, formatBytes, heldBytesFor, hindsightLimitBytes, hindsightWords } from '@mellow/core';
import {
  hindsightSchema,
  longestHindsightS,
  shortestHindsightS,
  type Hindsight,
  type HindsightWhere,
  type Setup,
} from '@mellow/model';
import { Button } from '../../parts/Button';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { useChangeSetupMutation, useWatchMutation, useUnwatchMutation } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { useKeys } from '../shell/useKeys';
import { useKeep } from './useKeep';

const lengths = [20, 60, 180, 600, 1800];

interface HindsightPanelProps {
  setup: Setup;
  bitsPerSecond: number;
  memoryBytes: number;
  driveName: string;
}

/** How much is held at hand, where it waits and what it costs, and the way to keep it without a take. */
export function HindsightPanel({ setup, bitsPerSecond, memoryBytes, driveName }: HindsightPanelProps) {
  const [change] = useChangeSetupMutation();
  const { hindsight } = setup;
  const set = (next: Hindsight | null) => void change({ id: setup.id, patch: { hindsight: next } });
  const begin = hindsight ?? hindsightSchema.parse({});
  return (
    <section className="hindsight" aria-label="Hindsight">
      <div className="row">
        <h2>Hindsight</h2>
        {hindsight && (
          <span className="push">
            <NumberField
              label="Seconds that are held"
              value={hindsight.lengthS}
              min={shortestHindsightS}
              max={longestHindsightS}
              unit="s"
              onChange={(lengthS) => set({ ...hindsight, lengthS })}
            />
          </span>
        )}
      </div>
      <Rail
        label="Hindsight"
        hue="capture"
        value={hindsight ? (lengths.includes(hindsight.lengthS) ? String(hindsight.lengthS) : null) : 'off'}
        choices={[
          { value: 'off', label: 'off' },
          ...lengths.map((lengthS) => ({ value: String(lengthS), label: hindsightWords(lengthS) })),
        ]}
        onChange={(value) => set(value === 'off' ? null : { ...begin, lengthS: Number(value) })}
      />
      {hindsight ? (
        <>
          <Rail
            label="Where it waits"
            hue="drive"
            value={hindsight.where}
            choices={[
              { value: 'memory', label: 'in memory' },
              { value: 'drive', label: `on ${driveName}` },
            ]}
            onChange={(where: HindsightWhere) => set({ ...hindsight, where })}
          />
          <p className="small soft">{costWords(setup, hindsight, bitsPerSecond, memoryBytes, driveName)}</p>
          <HeldNow setup={setup} hindsight={hindsight} />
        </>
      ) : (
        <p className="small soft">
          Nothing is held. Held minutes can be kept after something good has happened, with a take or without one.
        </p>
      )}
    </section>
  );
}

/** What it costs, before it is switched on. */
function costWords(
  setup: Setup,
  hindsight: Hindsight,
  bitsPerSecond: number,
  memoryBytes: number,
  driveName: string,
): string {
  const bytes = heldBytesFor(hindsight, setup.draft, bitsPerSecond);
  const { value, unit } = bytesParts(bytes);
  if (hindsight.where === 'drive')
    return `About ${value} ${unit} of ${driveName}, written all the time at ${formatBytes(bitsPerSecond / 8)}/s. They are found again when the recorder dies.`;
  const limit = hindsightLimitBytes(memoryBytes);
  const short =
    bytes > limit
      ? ` No more than ${formatBytes(limit)}, a quarter of the memory, are used: about ${hindsightWords((limit * 8) / bitsPerSecond)} are held.`
      : '';
  return `About ${value} ${unit} of memory. They are gone when the recorder dies.${short}`;
}

/** Holding without a take: on, off, and keeping. It costs the game what rolling does, without the writing. */
function HeldNow({ setup, hindsight }: { setup: Setup; hindsight: Hindsight }) {
  const watching = useAppSelector((state) => state.live.state?.watching ?? null);
  const [watch, starting] = useWatchMutation();
  const [unwatch, ending] = useUnwatchMutation();
  const mine = watching?.setupId === setup.id ? watching : null;
  const held = mine?.state === 'on' ? mine.held : null;
  const { keep, busy } = useKeep(held !== null);
  useKeys({ l: keep });
  return (
    <>
      <div className="row">
        {mine ? (
          <>
            <Button disabled={!held || held.heldS < 1} busy={busy} onClick={keep}>
              Keep the last {hindsightWords(hindsight.lengthS)} <kbd>L</kbd>
            </Button>
            <Button quiet busy={ending.isLoading} onClick={() => void unwatch()}>
              Let go
            </Button>
          </>
        ) : (
          <Button busy={starting.isLoading} onClick={() => void watch(setup.id)}>
            Hold from now on
          </Button>
        )}
      </div>
      <p className="small soft" role="status">
        {heldWords(mine, hindsight, watching !== null && !mine)}
      </p>
    </>
  );
}

function heldWords(
  mine: { state: string; why: string | null; held: { heldS: number; bytes: number; gaps: number } | null } | null,
  hindsight: Hindsight,
  another: boolean,
): string {
  if (!mine)
    return another ? 'Another setup is held now; it would be let go.' : 'A take holds it by itself while it rolls.';
  if (mine.state === 'failed') return `It does not hold: ${mine.why ?? ''}`;
  if (mine.state === 'resting') return 'It rests while the machine is used otherwise, and begins anew then.';
  if (!mine.held) return 'It begins.';
  const { heldS, bytes, gaps } = mine.held;
  const now = `${hindsightWords(Math.min(heldS, hindsight.lengthS))} held, ${formatBytes(bytes)}.`;
  return gaps ? `${now} ${gaps} pieces are missing: it could not keep up.` : now;
}
