import { useCallback, useMemo, useRef, useState } from 'react';
import { dueUs, formatCount } from '@mellow/core';
import { causeStation, type Cause, type Fate, type LossRun, type Take } from '@mellow/model';
import { ChartBox } from '../../chart/ChartBox';
import type { Chart } from '../../chart/echarts';
import { timelineOption } from '../../chart/timelineOption';
import { Button } from '../../parts/Button';
import { FateMark, fateWords } from '../../parts/FateMark';
import { Message } from '../../parts/Message';
import { stationWords } from '../../parts/Ribbon';
import { useLossesQuery, usePyramidQuery } from '../../store/api';
import { problemOf } from '../../store/problemOf';
import type { Tokens } from '../../theme/tokens';
import { QuietHeading } from '../../parts/QuietHeading';

const buckets = 1200;

interface TimelineProps {
  take: Take;
  timeS: number;
  onSeek: (seconds: number) => void;
  onPlay: () => void;
}

/** Frame times, bitrate and losses on one axis that can be zoomed; a click or the arrow keys move the player. */
export function Timeline({ take, timeS, onSeek, onPlay }: TimelineProps) {
  const pyramid = usePyramidQuery({ id: take.id, from: 0, to: null, buckets });
  const losses = useLossesQuery(take.id);
  const [asTable, setAsTable] = useState(false);
  const chart = useRef<Chart | null>(null);
  const drawn = useRef(false);
  const [zoomed, setZoomed] = useState(false);
  const [playheadPx, setPlayheadPx] = useState<number | null>(null);
  const data = pyramid.data;
  const runs = losses.data?.runs;
  const endS = data ? (data.dueFrames * data.periodUs) / 1e6 : 0;
  const option = useMemo(
    () =>
      data && runs
        ? (tokens: Tokens) => timelineOption({ pyramid: data, runs, marks: take.marks, cuts: take.cuts }, tokens)
        : null,
    [data, runs, take.marks, take.cuts],
  );

  const place = useCallback((seconds: number) => {
    if (!drawn.current) return;
    const x = chart.current?.convertToPixel({ xAxisIndex: 0 }, seconds);
    setPlayheadPx(typeof x === 'number' && Number.isFinite(x) ? x : null);
  }, []);
  // The chart is made once; its listeners reach the newest values through these.
  const timeNow = useRef(timeS);
  timeNow.current = timeS;
  const seekNow = useRef(onSeek);
  seekNow.current = onSeek;
  const ready = useCallback(
    (made: Chart) => {
      chart.current = made;
      drawn.current = false;
      made.getZr().on('click', (event) => {
        const seconds = made.convertFromPixel({ xAxisIndex: 0 }, event.offsetX);
        if (typeof seconds === 'number' && made.containPixel({ gridIndex: [0, 1, 2] }, [event.offsetX, event.offsetY]))
          seekNow.current(seconds);
      });
      made.on('datazoom', () => {
        const now = (made.getOption()['dataZoom'] as { start: number; end: number }[])[0];
        setZoomed(!!now && (now.start > 0.01 || now.end < 99.99));
      });
      made.on('finished', () => {
        drawn.current = true;
        place(timeNow.current);
      });
    },
    [place],
  );

  const zoom = (factor: number) => {
    const made = chart.current;
    if (!made || endS === 0) return;
    const now = (made.getOption()['dataZoom'] as { start: number; end: number }[])[0] ?? { start: 0, end: 100 };
    const span = Math.min(100, Math.max(0.05, (now.end - now.start) * factor));
    const centre = Math.min(100 - span / 2, Math.max(span / 2, (timeS / endS) * 100));
    made.dispatchAction({ type: 'dataZoom', start: centre - span / 2, end: centre + span / 2 });
  };
  const jump = (by: 1 | -1) => {
    const times = (runs ?? []).map((run) => run.atUs / 1e6);
    const next = by > 0 ? times.find((t) => t > timeS + 0.002) : [...times].reverse().find((t) => t < timeS - 0.002);
    if (next !== undefined) onSeek(next);
  };
  const stepS = data ? data.periodUs / 1e6 : 0;
  const onKey = (event: React.KeyboardEvent) => {
    const actions: Record<string, () => void> = {
      ArrowLeft: () => onSeek(timeS - (event.shiftKey ? 1 : stepS)),
      ArrowRight: () => onSeek(timeS + (event.shiftKey ? 1 : stepS)),
      Home: () => onSeek(0),
      End: () => onSeek(endS),
      '+': () => zoom(0.5),
      '=': () => zoom(0.5),
      '-': () => zoom(2),
      n: () => jump(1),
      p: () => jump(-1),
      ' ': onPlay,
    };
    const action = actions[event.key];
    if (!action || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    action();
  };
  const failed = pyramid.isError ? pyramid.error : losses.isError ? losses.error : null;
  return (
    <section className="sheet timeline" aria-label="Timeline">
      <div className="row">
        <h2>Timeline</h2>
        <span className="soft small">
          click to jump; arrows step a frame, + and − zoom, n and p go from loss to loss
        </span>
        <span className="push" style={{ display: 'flex', gap: 8 }}>
          {zoomed && (
            <Button quiet onClick={() => zoom(1e6)}>
              Whole take
            </Button>
          )}
          <Button quiet onClick={() => setAsTable(!asTable)}>
            {asTable ? 'As a chart' : `Misses as a table`}
          </Button>
        </span>
      </div>
      {failed ? (
        <Message tone="loss" title={problemOf(failed).title}>
          {problemOf(failed).detail}
        </Message>
      ) : asTable ? (
        <MissTable runs={runs ?? []} total={losses.data?.total ?? 0} take={take} onSeek={onSeek} />
      ) : (
        <div
          className="timeline-chart"
          tabIndex={0}
          role="slider"
          aria-label="Position in the take"
          aria-valuemin={0}
          aria-valuemax={Number(endS.toFixed(2))}
          aria-valuenow={Number(timeS.toFixed(2))}
          aria-valuetext={`${timeS.toFixed(2)} seconds`}
          onKeyDown={onKey}
        >
          <div className="timeline-names">
            <p>
              <b>Frame time</b>
              <span className="small soft">picture to picture</span>
            </p>
            <p>
              <b>Bitrate</b>
              <span className="small soft">video</span>
            </p>
            <p>
              <b>Lost</b>
              <span className="n">{formatCount(losses.data?.total ?? 0)}</span>
            </p>
          </div>
          {option ? (
            <ChartBox
              option={option}
              height={212}
              label="Frame times, bitrate and lost frames over the take; the same misses stand in the table"
              onReady={ready}
            />
          ) : (
            <p className="soft" style={{ height: 212 }}>
              Reading the ledger
            </p>
          )}
          <Playhead px={playheadPx} timeS={timeS} onMove={place} />
        </div>
      )}
    </section>
  );
}

function Playhead({ px, timeS, onMove }: { px: number | null; timeS: number; onMove: (seconds: number) => void }) {
  const last = useRef(-1);
  if (last.current !== timeS) {
    last.current = timeS;
    queueMicrotask(() => onMove(timeS));
  }
  if (px === null || px < 150) return null;
  return (
    <i className="timeline-playhead" style={{ left: px }} aria-hidden="true">
      <span className="n small">{timeS.toFixed(2)} s</span>
    </i>
  );
}

/** The misses for those who read rather than look: run by run, with station and cause. */
function MissTable({
  runs,
  total,
  take,
  onSeek,
}: {
  runs: readonly LossRun[];
  total: number;
  take: Take;
  onSeek: (seconds: number) => void;
}) {
  if (!runs.length)
    return (
      <p className="soft" style={{ padding: '24px 0' }}>
        No frame was lost.
      </p>
    );
  return (
    <div className="miss-table">
      <table>
        <caption className="visually-hidden">
          {total} lost frames in {runs.length} runs
        </caption>
        <thead>
          <tr>
            <th>at</th>
            <th>frames</th>
            <th>fate</th>
            <th>station</th>
            <th>cause</th>
            <QuietHeading name="actions" />
          </tr>
        </thead>
        <tbody>
          {runs.map((run) => {
            const station = causeStation[run.cause as Cause];
            return (
              <tr key={run.due}>
                <td className="n">{(dueUs(take.recipe.rate, run.due) / 1e6).toFixed(3)} s</td>
                <td className="n">{run.frames}</td>
                <td>
                  <span className="losses">
                    <FateMark fate={run.fate as Fate} />
                    {fateWords[run.fate as keyof typeof fateWords]?.one ?? run.fate}
                  </span>
                </td>
                <td>{station ? stationWords[station] : ''}</td>
                <td className="soft">{run.cause.replaceAll('-', ' ')}</td>
                <td className="right">
                  <button type="button" className="link" onClick={() => onSeek(run.atUs / 1e6)}>
                    See
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
