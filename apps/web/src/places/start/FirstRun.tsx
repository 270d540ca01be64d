import { formatBytes, purposeWords } from '@mellow/core';
import { purposes, type DemoState, type DriveState, type Setup, type Take } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { useMachineQuery } from '../../store/api';
import { useBeginSetup } from '../setups/BeginSetup';
import { DemoCard } from './DemoCard';

/** A first run has three things; what this PC tells of itself is there already. */
export function FirstRun({ setups, takes, drives, demo, today }: { setups: Setup[]; takes: Take[]; drives: DriveState[]; demo: DemoState; today: string }) {
  const { data: machine } = useMachineQuery();
  const begin = useBeginSetup();
  return (
    <div className="page">
      <div className="steps-line"><span className="soft">{today}</span><span className="soft push">nothing leaves this PC</span></div>
      <h1 style={{ margin: '8px 0 24px' }}>Two things, about a minute, and this PC can say what it records.</h1>
      <div className="first-steps">
        <section>
          <p className="first-step"><span className="first-number done"><Icon name="check" /></span><b className="start-title">This PC</b><i /></p>
          <p className="soft">What the system tells of it. How loaded it gets, a trial tells.</p>
          <table className="first-facts">
            <tbody>
              <tr><td>Processor</td><td>{machine ? `${machine.cores} cores, ${machine.processor}` : 'is read'}</td></tr>
              <tr><td>Memory</td><td>{machine ? formatBytes(machine.memoryBytes) : 'is read'}</td></tr>
              <tr><td>Encoder</td><td>AVC in software</td></tr>
              {drives.filter((d) => d.id !== 'demo').map((drive) => <tr key={drive.id}><td>Drive</td><td>{drive.problem ?? `${drive.name}, ${drive.freeBytes === null ? '?' : formatBytes(drive.freeBytes)} free`}</td></tr>)}
              <tr><td>Game</td><td>Paper Comets, a practice game that ships with this</td></tr>
            </tbody>
          </table>
        </section>
        <section>
          <p className="first-step"><span className="first-number now">1</span><b className="start-title">Say what the footage is for</b><i /></p>
          <p className="soft">One answer gives a starting recipe.</p>
          <ul className="first-purposes">
            {purposes.map((purpose) => (
              <li key={purpose}>
                <button type="button" onClick={() => void begin(purpose)}><b>{purposeWords[purpose].name}</b><span className="soft">{purposeWords[purpose].meaning}</span><Icon name="right" /></button>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <p className="first-step"><span className="first-number">2</span><b className="start-title">Make the first trial</b></p>
          <p className="soft">Ten seconds, really recorded. The verdict says in words and figures:</p>
          <table className="first-facts">
            <tbody>
              <tr><td>Lost</td><td>how many frames, and at which station</td></tr>
              <tr><td>Play cost</td><td>mean and slowest frames, with and without</td></tr>
              <tr><td>Load</td><td>of each station, against its budget</td></tr>
              <tr><td>Size</td><td>GB per hour, hours of room</td></tr>
              <tr><td>File</td><td>as asked and as found, read back</td></tr>
            </tbody>
          </table>
        </section>
      </div>
      <DemoCard demo={demo} setups={setups} takes={takes} />
    </div>
  );
}
