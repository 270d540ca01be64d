import { driveTestWords, formatMegabytesPerSecond, formatMs } from '@mellow/core';
import type { DriveFacts, StoredDriveTest } from '@mellow/model';
import { Button } from '../../parts/Button';
import { NumberField } from '../../parts/NumberField';
import { useMeasureDriveMutation, useTypeDriveSpeedMutation } from '../../store/driveApi';
import './DriveTests.css';

/** Drives by what they keep up, the fastest first; those nobody knows anything of come last. */
export const rankedDrives = (drives: readonly DriveFacts[]): DriveFacts[] =>
  [...drives].sort((a, b) => (b.writeBytesPerSecond ?? -1) - (a.writeBytesPerSecond ?? -1));

/** How each drive writes: the last test with its course, earlier ones, and a speed somebody knows already. */
export function DriveTests({
  drives,
  needBytesPerSecond,
}: {
  drives: readonly DriveFacts[];
  needBytesPerSecond: number;
}) {
  const [measure, measuring] = useMeasureDriveMutation();
  const measureAll = async () => {
    for (const { id, problem } of drives) if (!problem) await measure(id);
  };
  return (
    <details className="drive-tests">
      <summary>
        <b>Test of the drives</b> <span className="soft">{driveTestWords} each</span>
      </summary>
      <ul>
        {rankedDrives(drives).map((drive) => (
          <li key={drive.id}>
            <DriveTest
              drive={drive}
              needBytesPerSecond={needBytesPerSecond}
              busy={measuring.isLoading && measuring.originalArgs === drive.id}
              measure={() => void measure(drive.id)}
            />
          </li>
        ))}
      </ul>
      {drives.length > 1 && (
        <Button disabled={measuring.isLoading} onClick={() => void measureAll()}>
          Test all, one after the other
        </Button>
      )}
    </details>
  );
}

function DriveTest({
  drive,
  needBytesPerSecond,
  busy,
  measure,
}: {
  drive: DriveFacts;
  needBytesPerSecond: number;
  busy: boolean;
  measure: () => void;
}) {
  const [type] = useTypeDriveSpeedMutation();
  const last = drive.tests.at(-1);
  return (
    <div className="drive-test">
      <div>
        <p>
          <b>{drive.name}</b> <span className="soft">{drive.kind}</span>
        </p>
        <p className="small soft">{last ? testWords(last) : 'Not tested yet.'}</p>
        {drive.tests.length > 1 && (
          <p className="small soft">before: {drive.tests.slice(0, -1).map(earlierWords).reverse().join('; ')}</p>
        )}
      </div>
      {last ? <Course test={last} needBytesPerSecond={needBytesPerSecond} /> : <span />}
      <span className="drive-test-speed">
        <NumberField
          label={`Speed of ${drive.name}`}
          value={Math.round((drive.writeBytesPerSecond ?? 0) / 1e5) / 10}
          min={0.1}
          max={100_000}
          step={0.1}
          unit="MB/s"
          onChange={(megabytes) => void type({ id: drive.id, writeBytesPerSecond: megabytes * 1e6 })}
        />
        {drive.speedTyped && last && (
          <button
            type="button"
            className="link small"
            onClick={() => void type({ id: drive.id, writeBytesPerSecond: null })}
          >
            back to the test
          </button>
        )}
        <span className="small soft">{drive.speedTyped ? 'typed' : last ? 'measured' : ''}</span>
      </span>
      <Button quiet busy={busy} disabled={drive.problem !== null} onClick={measure}>
        {last ? 'Test again' : 'Test'}
      </Button>
    </div>
  );
}

function testWords(test: StoredDriveTest): string {
  const way = test.way === 'direct' ? 'past the cache' : 'each block flushed';
  const end = test.steady
    ? `steady after ${test.seconds.toFixed(0)} s`
    : `not steady after ${test.seconds.toFixed(0)} s`;
  return `${formatMegabytesPerSecond(test.bytesPerSecond)}, ${end}, ${way}; longest pause ${formatMs(test.longestPauseMs)}`;
}

function earlierWords({ at, bytesPerSecond }: StoredDriveTest): string {
  return `${formatMegabytesPerSecond(bytesPerSecond)} on ${new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}`;
}

/** The test's course against what the recipe needs. */
function Course({ test, needBytesPerSecond }: { test: StoredDriveTest; needBytesPerSecond: number }) {
  const width = 160;
  const height = 36;
  const top = Math.max(needBytesPerSecond, ...test.trace) * 1.05;
  const y = (value: number) => height - (value / top) * height;
  const x = (i: number) => (test.trace.length < 2 ? 0 : (i / (test.trace.length - 1)) * width);
  const slowest = Math.min(...test.trace);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      role="img"
      aria-label={`Course of the test: from ${formatMegabytesPerSecond(test.trace[0] ?? 0)} to ${formatMegabytesPerSecond(test.trace.at(-1) ?? 0)}, slowest half second ${formatMegabytesPerSecond(slowest)}; ${formatMegabytesPerSecond(needBytesPerSecond)} are needed`}
    >
      <polyline
        points={test.trace.map((value, i) => `${x(i).toFixed(1)},${y(value).toFixed(1)}`).join(' ')}
        fill="none"
        stroke="var(--drive-ink)"
        strokeWidth="1.5"
      />
      <line
        x1="0"
        x2={width}
        y1={y(needBytesPerSecond)}
        y2={y(needBytesPerSecond)}
        stroke="var(--ink)"
        strokeWidth="1"
      />
    </svg>
  );
}
