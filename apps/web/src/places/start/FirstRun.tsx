import { encoderFacts, formatBytes, placeWords, purposeWords } from '@mellow/core';
import { purposes, type DemoState, type DriveState, type Setup, type Take } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { Button } from '../../parts/Button';
import { useMachinesQuery, useProveEncodersMutation } from '../../store/api';
import { useBeginSetup } from '../setups/BeginSetup';
import { DemoCard } from './DemoCard';

/** A first run has three things; what this PC tells of itself is there already. */
export function FirstRun({
  setups,
  takes,
  drives,
  demo,
  today,
}: {
  setups: Setup[];
  takes: Take[];
  drives: DriveState[];
  demo: DemoState;
  today: string;
}) {
  const { data: machines } = useMachinesQuery();
  const [prove, proving] = useProveEncodersMutation();
  const machine = machines?.find((m) => m.id === 'this');
  const measured = machine !== undefined && machine.provenAt !== null;
  const working = machine?.encoders.filter((e) => e.works) ?? [];
  const begin = useBeginSetup();
  return (
    <div className="page">
      <div className="steps-line">
        <span className="soft">{today}</span>
        <span className="soft push">nothing leaves this PC</span>
      </div>
      <h1 style={{ margin: '8px 0 24px' }}>
        {measured ? 'Two things, about a minute' : 'Three things, about two minutes'}, and this PC can say what it
        records.
      </h1>
      <div className="first-steps">
        <section>
          <p className="first-step">
            {measured ? (
              <span className="first-number done">
                <Icon name="check" />
              </span>
            ) : (
              <span className="first-number now">1</span>
            )}
            <b className="start-title">{measured ? 'This PC' : 'Measure this PC'}</b>
            <i />
          </p>
          <p className="soft">
            {measured
              ? 'What the system tells of it, and which encoders made their test.'
              : 'What the system tells of it; which encoders work, a test of each tells.'}
          </p>
          <table className="first-facts">
            <tbody>
              <tr>
                <td>Processor</td>
                <td>{machine ? `${machine.cores} cores, ${machine.processor}` : 'is read'}</td>
              </tr>
              <tr>
                <td>Memory</td>
                <td>{machine ? formatBytes(machine.memoryBytes) : 'is read'}</td>
              </tr>
              <tr>
                <td>Encoders</td>
                <td>
                  {measured ? (
                    <>
                      {working
                        .map((e) => `${encoderFacts[e.encoder].standard} ${placeWords[encoderFacts[e.encoder].place]}`)
                        .slice(0, 2)
                        .join(', ')}
                      {working.length > 2 ? ` and ${working.length - 2} more` : ''}
                    </>
                  ) : (
                    <Button quiet busy={proving.isLoading} onClick={() => void prove()}>
                      {proving.isLoading ? 'Each makes its test' : 'Try them, half a minute'}
                    </Button>
                  )}
                </td>
              </tr>
              {drives
                .filter((d) => d.id !== 'demo')
                .map((drive) => (
                  <tr key={drive.id}>
                    <td>Drive</td>
                    <td>
                      {drive.problem ??
                        `${drive.name}, ${drive.freeBytes === null ? '?' : formatBytes(drive.freeBytes)} free`}
                    </td>
                  </tr>
                ))}
              <tr>
                <td>Game</td>
                <td>Paper Comets, a practice game that ships with this</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section>
          <p className="first-step">
            <span className={`first-number${measured ? ' now' : ''}`}>{measured ? 1 : 2}</span>
            <b className="start-title">Say what the footage is for</b>
            <i />
          </p>
          <p className="soft">One answer gives a starting recipe.</p>
          <ul className="first-purposes">
            {purposes.map((purpose) => (
              <li key={purpose}>
                <button type="button" onClick={() => void begin(purpose)}>
                  <b>{purposeWords[purpose].name}</b>
                  <span className="soft">{purposeWords[purpose].meaning}</span>
                  <Icon name="right" />
                </button>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <p className="first-step">
            <span className="first-number">{measured ? 2 : 3}</span>
            <b className="start-title">Make the first trial</b>
          </p>
          <p className="soft">Ten seconds, really recorded. The verdict says in words and figures:</p>
          <table className="first-facts">
            <tbody>
              <tr>
                <td>Lost</td>
                <td>how many frames, and at which station</td>
              </tr>
              <tr>
                <td>Play cost</td>
                <td>mean and slowest frames, with and without</td>
              </tr>
              <tr>
                <td>Load</td>
                <td>of each station, against its budget</td>
              </tr>
              <tr>
                <td>Size</td>
                <td>GB per hour, hours of room</td>
              </tr>
              <tr>
                <td>File</td>
                <td>as asked and as found, read back</td>
              </tr>
            </tbody>
          </table>
        </section>
      </div>
      <DemoCard demo={demo} setups={setups} takes={takes} />
    </div>
  );
}
