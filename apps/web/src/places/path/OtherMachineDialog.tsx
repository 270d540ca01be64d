import Dialog from '@mui/material/Dialog';
import { useMemo, useState } from 'react';
import {
  adviceFor,
  bytesPerHour,
  formatBytes,
  forecastOf,
  playCostOf,
  seedOf,
  signed,
  type ForecastContext,
} from '@mellow/core';
import { stationNames, type MachineSheet } from '@mellow/model';
import { Button } from '../../parts/Button';
import { EaseWord, easeOf } from '../../parts/Gauge';
import { stationWords } from '../../parts/Ribbon';
import { SimulatedTag } from '../../parts/SimulatedTag';
import { contextOf } from '../../forecast/useForecastContext';
import { useOutlook } from '../../forecast/useOutlook';
import { usePath } from './pathContext';
import { QuietHeading } from '../../parts/QuietHeading';

/** The same recipe on two machines, side by side. */
export function OtherMachineDialog({ onClose }: { onClose: () => void }) {
  const { machine, machines } = usePath();
  const others = machines.filter((m) => m.id !== machine?.id);
  const [otherId, setOtherId] = useState(others[0]?.id ?? '');
  const other = others.find((m) => m.id === otherId) ?? others[0];
  if (!machine || !other) return null;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="other-title">
      <div className="dialog">
        <div className="row">
          <h2 id="other-title">The same recipe on</h2>
          <select
            className="pick"
            aria-label="Other machine"
            value={other.id}
            onChange={(event) => setOtherId(event.target.value)}
          >
            {others.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
                {m.origin === 'simulated' ? ', simulated' : ''}
              </option>
            ))}
          </select>
        </div>
        <Sides key={other.id} here={machine} there={other} />
        <div className="dialog-actions">
          <Button autoFocus onClick={onClose}>
            Close
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

function Sides({ here, there }: { here: MachineSheet; there: MachineSheet }) {
  const { setup, trials, drives, recipe, context } = usePath();
  const other = useMemo<ForecastContext>(() => contextOf(setup, trials, there, drives), [setup, trials, there, drives]);
  const driveId = other.drives.some((d) => d.id === recipe.driveId)
    ? recipe.driveId
    : (other.drives[0]?.id ?? recipe.driveId);
  const moved = useMemo(() => ({ ...recipe, driveId }), [recipe, driveId]);
  const [a, b] = [forecastOf(recipe, context), forecastOf(moved, other)];
  const [first, second] = [
    useOutlook(recipe, null, context, seedOf(setup.game, setup.id)),
    useOutlook(moved, null, other, seedOf(setup.game, setup.id)),
  ];
  const cost = (reply: typeof first.reply): string =>
    reply
      ? `${reply.play.with.meanFps.toFixed(0)} of ${reply.play.without.meanFps.toFixed(0)} fps, ${signed(-playCostOf(reply.play).mean * 100, 1)} %`
      : 'is simulated';
  const low = (reply: typeof first.reply): string =>
    reply
      ? `${(reply.play.with.onePercentLowFps ?? 0).toFixed(0)} of ${(reply.play.without.onePercentLowFps ?? 0).toFixed(0)} fps`
      : 'is simulated';
  const worst = [adviceFor(recipe, context, a)[0] ?? null, adviceFor(moved, other, b)[0] ?? null] as const;
  return (
    <table className="versions">
      <thead>
        <tr>
          <QuietHeading name="figure" />
          <th>
            <MachineName machine={here} />
          </th>
          <th>
            <MachineName machine={there} />
          </th>
        </tr>
      </thead>
      <tbody>
        {stationNames.map((name) => (
          <tr key={name}>
            <td className="soft">{stationWords[name]}</td>
            {[a, b].map((f, i) => {
              const load = f.loads[name];
              return (
                <td key={i}>
                  {load ? (
                    <span className="row">
                      <span>
                        <span className="n">{load.busiest.toFixed(1)}</span>{' '}
                        <span className="soft">
                          of {load.budget.toFixed(1)} {load.unit}, {load.origin}
                        </span>
                      </span>
                      <EaseWord ease={easeOf(load.busiest, load.budget)} />
                    </span>
                  ) : (
                    <span className="soft">{name === 'size' ? 'no work' : 'not known'}</span>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
        <tr>
          <td className="soft">Game, mean</td>
          <td>{cost(first.reply)}</td>
          <td>{cost(second.reply)}</td>
        </tr>
        <tr>
          <td className="soft">1 % low</td>
          <td>{low(first.reply)}</td>
          <td>{low(second.reply)}</td>
        </tr>
        <tr>
          <td className="soft">Misses</td>
          {[first, second].map((o, i) => (
            <td key={i}>
              {o.reply ? `${o.reply.predicted.missesPerMinute.value.toFixed(1)} a minute` : 'is simulated'}
            </td>
          ))}
        </tr>
        <tr>
          <td className="soft">Size</td>
          {[a, b].map((f, i) => (
            <td key={i}>
              {formatBytes(bytesPerHour(f.bits.value))} an hour{' '}
              <span className="soft">
                ({formatBytes(bytesPerHour(f.bits.low))} to {formatBytes(bytesPerHour(f.bits.high))})
              </span>
            </td>
          ))}
        </tr>
        <tr>
          <td className="soft">First advice</td>
          {worst.map((item, i) => (
            <td key={i}>{item ? item.title : 'none'}</td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

export function MachineName({ machine }: { machine: MachineSheet }) {
  return (
    <>
      <b>{machine.name}</b> <SimulatedTag machine={machine} />
    </>
  );
}
