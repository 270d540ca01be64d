import { useState } from 'react';
import { driveTestWords, encoderFacts, formatBytes, formatMegabytesPerSecond, readinessOf } from '@mellow/core';
import type { DriveState, MachineSheet } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Message } from '../../parts/Message';
import { NumberField, TypedField } from '../../parts/NumberField';
import { WordEditor, WordMenu } from '../../parts/WordMenu';
import { useChangeMachineMutation, useDrivesQuery, useMachinesQuery, useProveEncodersMutation } from '../../store/api';
import { useMeasureDriveMutation } from '../../store/driveApi';
import { problemOf } from '../../store/problemOf';
import { useAppSelector } from '../../store/store';
import { QueryGate } from '../shell/QueryGate';
import { EncoderPlot } from './EncoderPlot';
import { QuietHeading } from '../../parts/QuietHeading';
import { Displays } from './Displays';
import { WorkingFolder } from './WorkingFolder';
import './Machine.css';

/** Machine: what a PC can do, measured; the simulated ones stand beside it and say so. */
export function MachinePlace() {
  const machines = useMachinesQuery();
  const drives = useDrivesQuery();
  const [id, setId] = useState('this');
  return (
    <QueryGate queries={[machines, drives]} what="Reading the machine">
      {() => {
        const all = machines.data ?? [];
        const machine = all.find((m) => m.id === id) ?? all[0];
        return machine ? (
          <MachineView key={machine.id} machine={machine} machines={all} drives={drives.data ?? []} onChoose={setId} />
        ) : null;
      }}
    </QueryGate>
  );
}

function MachineView({
  machine,
  machines,
  drives,
  onChoose,
}: {
  machine: MachineSheet;
  machines: MachineSheet[];
  drives: DriveState[];
  onChoose: (id: string) => void;
}) {
  const [prove, proving] = useProveEncodersMutation();
  const idle = useAppSelector((state) => (state.live.state?.recorder ?? 'idle') === 'idle');
  const simulated = machine.origin === 'simulated';
  const measured = machine.provenAt !== null;
  return (
    <div className="page">
      <div className="steps-line">
        <b>
          <WordMenu
            label="Machine"
            word={machine.id === 'this' ? 'This PC' : machine.name}
            value={machine.id}
            choices={machines.map((m) => ({
              value: m.id,
              label: m.id === 'this' ? `This PC, ${m.name}` : `${m.name}, simulated`,
            }))}
            onChange={onChoose}
          />
        </b>
        {simulated && <span className="demo-tag">simulated</span>}
        <span className="soft clip">
          {simulated
            ? 'a stand-in for another PC: every figure here is assumed, none was measured'
            : machine.provenAt
              ? `encoders tried ${new Date(machine.provenAt).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}`
              : 'what the system tells; the encoders were not tried yet'}
        </span>
        <div className="steps-line-tools">
          {!simulated && (
            <Button main={!measured} disabled={!idle} busy={proving.isLoading} onClick={() => void prove()}>
              {proving.isLoading
                ? 'Each encoder makes its test'
                : measured
                  ? 'Try the encoders again'
                  : 'Try the encoders, half a minute'}
            </Button>
          )}
          <Button main={simulated || measured} href={`/api/machines/${machine.id}/sheet`} download>
            <Icon name="download" />
            Save the machine sheet
          </Button>
        </div>
      </div>
      <h1 style={{ margin: '8px 0 16px' }}>{readinessOf(machine).sentence}</h1>
      {proving.isError && (
        <Message tone="loss" title={problemOf(proving.error).title}>
          {problemOf(proving.error).detail}
        </Message>
      )}
      <div className="machine">
        <div>
          <Encoders machine={machine} proving={proving.isLoading} />
          <MachineDrives machine={machine} drives={drives} />
        </div>
        <div className="machine-right">
          <WorkingParts machine={machine} />
          <Displays machine={machine} />
          <section>
            <div className="machine-title">
              <h2>Machine sheet</h2>
              <span className="soft push">nothing is sent</span>
            </div>
            <p className="soft">
              Everything on this page and the recipes in use, as a text to read on another PC or to show when asking for
              help. Names of folders are left out.
            </p>
          </section>
        </div>
      </div>
    </div>
  );
}

function Encoders({ machine, proving }: { machine: MachineSheet; proving: boolean }) {
  const { recommended } = readinessOf(machine);
  return (
    <section>
      <div className="machine-title">
        <h2>{machine.origin === 'simulated' ? 'Encoders, assumed' : 'Encoders, proven by test'}</h2>
        <span className="soft push">
          {machine.encoders.length ? 'at 1920×1080, alone; a hollow mark was not tried itself' : ''}
        </span>
      </div>
      {machine.encoders.length ? (
        <EncoderPlot machine={machine} recommended={recommended?.encoder ?? null} />
      ) : (
        <p className="soft machine-empty">
          {proving
            ? 'Every encoder encodes the same pictures in a process of its own; one that hangs takes only its own test with it.'
            : 'None was tried yet. A driver’s word is not enough: each encoder has to make a short file that can be decoded.'}
        </p>
      )}
      {machine.encoders.length > 0 && (
        <p className="soft small">
          A game beside it takes its share: software encoders take their cores from the game.{' '}
          {recommended ? `To begin with: ${encoderFacts[recommended.encoder].meaning}` : ''}
        </p>
      )}
    </section>
  );
}

function MachineDrives({ machine, drives }: { machine: MachineSheet; drives: DriveState[] }) {
  const [measure, measuring] = useMeasureDriveMutation();
  const simulated = machine.origin === 'simulated';
  const rows = simulated ? machine.drives.map((d) => ({ ...d, problem: null })) : drives;
  const fastest = Math.max(...rows.map((d) => d.writeBytesPerSecond ?? 0), 1);
  return (
    <section className="sheet machine-drives">
      <div className="machine-title">
        <h2>Drives</h2>
        <span className="soft push">{simulated ? 'assumed' : driveTestWords}</span>
      </div>
      <table>
        <thead>
          <tr>
            <th>drive</th>
            <th>kind</th>
            <th className="right">free</th>
            <th>writes</th>
            <QuietHeading name="actions" className="right" />
          </tr>
        </thead>
        <tbody>
          {rows.map((drive) => (
            <tr key={drive.id}>
              <td>
                <b>{drive.name}</b>
                {drive.problem && <span className="over small"> {drive.problem}</span>}
              </td>
              <td className="soft">{drive.kind}</td>
              <td className="right n">{drive.freeBytes === null ? '?' : formatBytes(drive.freeBytes)}</td>
              <td>
                <span className="machine-speed" aria-hidden="true">
                  <i style={{ width: `${((drive.writeBytesPerSecond ?? 0) / fastest) * 100}%` }} />
                </span>
              </td>
              <td className="right n">
                {drive.writeBytesPerSecond !== null ? formatMegabytesPerSecond(drive.writeBytesPerSecond) : '?'}{' '}
                {!simulated && (
                  <Button
                    quiet
                    label={`Measure ${drive.name}`}
                    busy={measuring.isLoading && measuring.originalArgs === drive.id}
                    onClick={() => void measure(drive.id)}
                  >
                    Measure
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {!simulated && <WorkingFolder drives={drives} />}
    </section>
  );
}

function WorkingParts({ machine }: { machine: MachineSheet }) {
  const [change] = useChangeMachineMutation();
  const simulated = machine.origin === 'simulated';
  const { coreSpeed } = machine;
  return (
    <section>
      <div className="machine-title">
        <h2>Working parts</h2>
      </div>
      <table className="machine-parts">
        <tbody>
          <tr>
            <td>Name</td>
            <td>
              <TypedField
                wide
                label="Name of the machine"
                text={machine.name}
                parse={(text) =>
                  text.trim() && text.length <= 80 ? { value: text.trim() } : { problem: 'A name has 1 to 80 signs.' }
                }
                onChange={(name) => void change({ id: machine.id, patch: { name } })}
              />
            </td>
          </tr>
          <tr>
            <td>Processor</td>
            <td>
              {simulated ? (
                <WordEditor label="Cores" word={`${machine.cores} cores`}>
                  {() => (
                    <NumberField
                      label="Cores of the simulated machine"
                      value={machine.cores}
                      min={1}
                      max={256}
                      onChange={(cores) => void change({ id: machine.id, patch: { cores } })}
                    />
                  )}
                </WordEditor>
              ) : (
                `${machine.cores} cores`
              )}
              , {machine.processor}
            </td>
          </tr>
          <tr>
            <td>A core’s speed</td>
            <td>
              {simulated ? (
                <WordEditor label="Speed of a core" word={`${coreSpeed.value.toFixed(2)} times`}>
                  {() => (
                    <NumberField
                      label="Speed of a core of the simulated machine"
                      value={coreSpeed.value}
                      min={0.05}
                      max={20}
                      step={0.01}
                      unit="times"
                      onChange={(speed) => void change({ id: machine.id, patch: { coreSpeed: speed } })}
                    />
                  )}
                </WordEditor>
              ) : (
                `${coreSpeed.value.toFixed(2)} times`
              )}{' '}
              <span className="soft">
                the PC typical values stem from; {coreSpeed.origin}: {coreSpeed.from}
              </span>
            </td>
          </tr>
          <tr>
            <td>Graphics</td>
            <td>{machine.graphics?.name ?? <span className="soft">the system tells nothing of it</span>}</td>
          </tr>
          <tr>
            <td>Memory</td>
            <td>{formatBytes(machine.memoryBytes)}</td>
          </tr>
          <tr>
            <td>System</td>
            <td>{machine.system}</td>
          </tr>
        </tbody>
      </table>
    </section>
  );
}
