import { formatBytes, formatMegabytesPerSecond, formatRoom, hoursOfRoom } from '@mellow/core';
import type { DemoState, DriveState, Setup, Take } from '@mellow/model';
import { Link } from 'react-router';
import { SimulatedTag } from '../../parts/SimulatedTag';
import { useDemoQuery, useDrivesQuery, useSetupsQuery, useTakesQuery } from '../../store/api';
import { BeginSetup } from '../setups/BeginSetup';
import { useHourlyBits } from '../../forecast/useForecastContext';
import { SetupRows } from '../setups/SetupRows';
import { setupsSentence } from '../setups/SetupsPlace';
import { QueryGate } from '../shell/QueryGate';
import { DemoCard } from './DemoCard';
import { FirstRun } from './FirstRun';
import './Start.css';

/** Start: how the setups stand, room on the drives, the last verdicts; on a first run, what there is to do. */
export function StartPlace() {
  const setups = useSetupsQuery();
  const takes = useTakesQuery();
  const drives = useDrivesQuery();
  const demo = useDemoQuery();
  return (
    <QueryGate queries={[setups, takes, drives, demo]} what="Reading your setups">
      {() => (
        <Start
          setups={setups.data ?? []}
          takes={takes.data ?? []}
          drives={drives.data ?? []}
          demo={demo.data ?? { present: false, madeOn: null, setups: 0, takes: 0 }}
        />
      )}
    </QueryGate>
  );
}

function Start({
  setups,
  takes,
  drives,
  demo,
}: {
  setups: Setup[];
  takes: Take[];
  drives: DriveState[];
  demo: DemoState;
}) {
  const own = setups.filter((s) => !s.demo);
  const today = new Date().toLocaleString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });
  if (own.length === 0 && !takes.some((t) => !t.demo))
    return <FirstRun setups={setups} takes={takes} drives={drives} demo={demo} today={today} />;
  const shown = own.length ? own : setups;
  return (
    <div className="page">
      <div className="steps-line">
        <span className="soft">{today}</span>
      </div>
      <h1 style={{ margin: '8px 0 16px' }}>{setupsSentence(shown, takes)}</h1>
      <div className="start-columns">
        <section>
          <p className="row" style={{ paddingBottom: 8 }}>
            <b className="start-title">Setups</b>
            {own.length > 4 && (
              <Link className="soft quiet-link" to="/setups">
                four of {own.length}; all are in Setups
              </Link>
            )}
          </p>
          <SetupRows setups={shown.slice(0, 4)} takes={takes} main={shown[0]?.id ?? null} />
        </section>
        <aside>
          <Drives drives={drives} setups={shown} takes={takes} />
          <LastVerdicts takes={takes} setups={setups} />
        </aside>
      </div>
      <BeginSetup />
      {demo.present && (
        <div style={{ marginTop: 16 }}>
          <DemoCard demo={demo} setups={setups} takes={takes} />
        </div>
      )}
    </div>
  );
}

export function Drives({ drives, setups, takes }: { drives: DriveState[]; setups: Setup[]; takes: Take[] }) {
  const hourlyBits = useHourlyBits();
  return (
    <section className="start-drives">
      <h2>Room on the drives</h2>
      {drives.map((drive) => {
        const setup = setups.find((s) => s.draft.driveId === drive.id) ?? null;
        const bits = setup
          ? hourlyBits(
              setup,
              takes.filter((t) => t.setupId === setup.id),
            )
          : null;
        const used = drive.totalBytes && drive.freeBytes !== null ? 1 - drive.freeBytes / drive.totalBytes : 0;
        const ours = drive.totalBytes ? drive.takesBytes / drive.totalBytes : 0;
        return (
          <div key={drive.id} className="start-drive">
            <p className="row">
              <span>
                <b>{drive.name}</b> <span className="soft">{drive.kind === 'unknown' ? '' : drive.kind}</span>
              </span>
              {drive.freeBytes !== null && drive.totalBytes !== null && (
                <span className="push">
                  <b className="n">{formatBytes(drive.freeBytes)}</b>{' '}
                  <span className="soft">of {formatBytes(drive.totalBytes)} free</span>
                </span>
              )}
            </p>
            {drive.problem ? (
              <p className="over small">{drive.problem}</p>
            ) : (
              <div className="start-room" aria-hidden="true">
                <i style={{ width: `${used * 100}%` }} />
                <b
                  style={{
                    width: `${Math.max(ours * 100, drive.takesBytes ? 0.4 : 0)}%`,
                    left: `${Math.max(0, used - ours) * 100}%`,
                  }}
                />
              </div>
            )}
            <p className="row soft small">
              <span>
                {setup && bits && drive.freeBytes !== null
                  ? `${formatRoom(hoursOfRoom(drive.freeBytes, bits))} of ${setup.name}`
                  : drive.takesBytes
                    ? `${formatBytes(drive.takesBytes)} of takes`
                    : 'no takes yet'}
              </span>
              <span className="push">
                {drive.writeBytesPerSecond === null
                  ? 'write speed not measured'
                  : formatMegabytesPerSecond(drive.writeBytesPerSecond)}
              </span>
            </p>
          </div>
        );
      })}
    </section>
  );
}

function LastVerdicts({ takes, setups }: { takes: Take[]; setups: Setup[] }) {
  const last = takes.filter((t) => t.verdict && !t.demo).slice(0, 3);
  if (!last.length) return null;
  return (
    <section>
      <h2>Last verdicts</h2>
      <ul className="start-verdicts">
        {last.map((take) => (
          <li key={take.id}>
            <span className="n soft">
              {new Date(take.createdAt).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}
            </span>
            <span>
              <Link className="quiet-link" to={`/takes/${take.id}`}>
                <b>
                  {setups.find((s) => s.id === take.setupId)?.name ?? 'Removed setup'}, trial {take.number}
                </b>
              </Link>{' '}
              <SimulatedTag machine={take.machine} />
              <br />
              <span className="soft">{take.verdict?.sentence}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
