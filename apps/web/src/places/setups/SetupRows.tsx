import { Link } from 'react-router';
import { bytesParts, bytesPerHour, formatRate, formatSize, purposeWords } from '@mellow/core';
import type { Setup, Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Profile } from '../../parts/Profile';
import { Still } from '../../parts/Still';
import { useHourlyBits } from '../../forecast/useForecastContext';
import { ShapeMark, type MarkShape } from '../../parts/ShapeMark';
import { useMachinesQuery } from '../../store/api';
import { setupState, type SetupState } from './setupState';
import './Setups.css';

const shapes: Record<SetupState['kind'], MarkShape> = {
  ready: 'keep',
  'wants-trial': 'waits',
  new: 'new',
  look: 'look',
  clash: 'clash',
};

/** Setups in rows: what they are, how loaded, how large, how they stand, what comes next. */
export function SetupRows({
  setups,
  takes,
  main,
  onRemove,
}: {
  setups: Setup[];
  takes: Take[];
  main: string | null;
  onRemove?: (setup: Setup) => void;
}) {
  const hourlyBits = useHourlyBits();
  const { data: machines = [] } = useMachinesQuery();
  return (
    <ul className="setup-rows">
      {setups.map((setup) => {
        const trials = takes.filter((t) => t.setupId === setup.id);
        const machine = machines.find((m) => m.id === setup.machineId) ?? null;
        const state = setupState(setup, trials);
        const bits = hourlyBits(setup, trials);
        const size = bits === null ? null : bytesParts(bytesPerHour(bits));
        const shown = trials.find((t) => t.facts) ?? null;
        return (
          <li key={setup.id} className="setup-row">
            <span className="setup-still">
              <Still takeId={shown?.id ?? null} />
            </span>
            <div className="setup-words">
              <h2>
                <Link to={`/setups/${setup.id}/path`}>{setup.name}</Link>
                {setup.demo && (
                  <span className="demo-tag" style={{ marginLeft: 8 }}>
                    demo
                  </span>
                )}
              </h2>
              <p>
                {setup.game.title} on{' '}
                {machine?.origin === 'simulated' ? (
                  <>
                    {machine.name} <span className="demo-tag">simulated</span>
                  </>
                ) : setup.demo ? (
                  'the demo’s PC'
                ) : (
                  'this PC'
                )}
              </p>
              <p className="soft">
                {formatSize(setup.draft.size.widthPx, setup.draft.size.heightPx)} at {formatRate(setup.draft.rate)},{' '}
                {purposeWords[setup.brief.purpose].name.toLowerCase()}
              </p>
            </div>
            <span className="setup-profile">
              {shown?.summary ? (
                <Profile loads={shown.summary.loads} />
              ) : (
                <span className="small soft">no load yet</span>
              )}
            </span>
            <span className="setup-size">
              {size ? (
                <>
                  <span className="big">{size.value}</span>
                  <span className="unit">{size.unit}/h</span>
                </>
              ) : (
                <span className="small soft">size not known yet</span>
              )}
            </span>
            <div className={`setup-state ${state.kind}`}>
              <p className="setup-state-word">
                <ShapeMark shape={shapes[state.kind]} />
                {state.word}
              </p>
              <p className="soft">{state.text}</p>
            </div>
            <div className="setup-next">
              <Button main={main === setup.id} to={state.next.to}>
                {state.next.label}
              </Button>
              {onRemove && trials.length === 0 && (
                <Button quiet label={`Remove ${setup.name}`} onClick={() => onRemove(setup)}>
                  Remove
                </Button>
              )}
            </div>
          </li>
        );
      })}
    </ul>
  );
}
