import { useMemo, useState } from 'react';
import {
  forecastDifferences,
  formatPercent,
  goodShare,
  ladderFor,
  tightest,
  type Forecast,
  type Rung,
} from '@mellow/core';
import type { Station } from '@mellow/model';
import { Button } from '../../parts/Button';
import { stationWords } from '../../parts/Ribbon';
import { usePath } from './pathContext';

/** Everything that could be lowered where a station struggles, in the order of what it costs, with what each rung alone would gain. */
export function Ladder() {
  const { forecast } = usePath();
  const [open, setOpen] = useState(false);
  const tight = tightest(forecast);
  if (!tight || tight.share <= goodShare) return null;
  return (
    <details className="ladder" open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Everything that could be lowered, and what each gains</summary>
      {open && <Rungs station={tight.station} />}
    </details>
  );
}

function Rungs({ station }: { station: Station }) {
  const { recipe, context, forecast, change } = usePath();
  const rungs = useMemo(() => ladderFor(recipe, context, forecast), [recipe, context, forecast]);
  if (!rungs.length)
    return <p className="soft small">Nothing in the recipe is left to lower; only the game’s own settings are.</p>;
  return (
    <ol>
      {rungs.map((rung) => (
        <li key={rung.label}>
          <span>
            <b>{rung.label}</b> <span className="small soft">{gainWords(rung, station, forecast)}</span>
          </span>
          <Button quiet onClick={() => change(rung.recipe)} label={`Take the step: ${rung.label}`}>
            Do it
          </Button>
        </li>
      ))}
    </ol>
  );
}

/** What the station that decides gains, and what else changes: size, picture, what is lost in a crash. */
function gainWords({ relieves, share, after }: Rung, station: Station, now: Forecast): string {
  const gain = relieves
    ? `${stationWords[station]} ${formatPercent(share.before)} to ${formatPercent(share.after)} of its budget`
    : `no relief for ${stationWords[station]}`;
  return [gain, ...forecastDifferences(now, after).filter((text) => !text.includes('of its budget'))].join(', ');
}
