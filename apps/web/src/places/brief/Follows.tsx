import { useMemo } from 'react';
import {
  bytesPerHour,
  bytesParts,
  forecastOf,
  formatBitrate,
  formatBytes,
  playCostOf,
  plural,
  seedOf,
  sessionsThatFit,
  settingFacts,
  type ForecastContext,
  type Reason,
} from '@mellow/core';
import { stationNames, type PathPlaceName, type Setup } from '@mellow/model';
import { useOutlook } from '../../forecast/useOutlook';
import { useStartReasons } from '../../forecast/useStartReasons';
import { Gauge } from '../../parts/Gauge';
import { Icon } from '../../parts/Icon';
import { Origin } from '../../parts/Origin';
import { stationWords } from '../../parts/Ribbon';
import { sessionWords, soundWords, stationChoices } from '../path/pathWords';

const order: readonly PathPlaceName[] = ['game', 'capture', 'size', 'encode', 'sound', 'pack', 'drive'];

/** Two reasons at a glance: those that follow from an answer go first. */
const told = (reasons: readonly Reason[]): Reason[] =>
  reasons.toSorted((a, b) => Number(a.answer === null) - Number(b.answer === null)).slice(0, 2);

/** What follows from the answers: the starting recipe station by station, each value with its reason and the answer it comes from. */
export function Follows({ setup, context }: { setup: Setup; context: ForecastContext }) {
  const { brief, game, start } = setup;
  const reasons = useStartReasons(setup, context, start.driveId);
  const forecast = useMemo(() => forecastOf(start, context), [start, context]);
  const { reply, current, problem } = useOutlook(start, null, context, seedOf(game, setup.id));
  const choices = stationChoices(start, game, forecast.drive);
  const sound = soundWords(start);
  const of = (station: PathPlaceName): Reason[] => reasons.filter((r) => settingFacts[r.setting].station === station);
  const size = bytesParts(bytesPerHour(forecast.bits.value));
  const cost = reply ? playCostOf(reply.play) : null;
  const misses = reply?.predicted.missesPerMinute.value ?? null;
  return (
    <>
      <div className="row">
        <h2>What follows at once</h2>
        <span className="soft push">forecast {forecast.basis}</span>
      </div>
      <ol className="follows">
        {order.map((station) => {
          const own = of(station);
          const answers = [...new Set(own.flatMap((r) => (r.answer === null ? [] : [r.answer])))].sort();
          const load = station === 'sound' ? null : forecast.loads[station];
          return (
            <li key={station} className={`hue-${station}${station === 'sound' ? ' lane-step' : ''}`}>
              <span className="station-disc" aria-hidden="true">
                <Icon name={station} size={14} />
              </span>
              <div>
                <h3>
                  {station === 'sound' ? sound.what : choices[station]}{' '}
                  {answers.map((n) => (
                    <i key={n} className="answer-mark" title={`follows from answer ${n}`}>
                      {n}
                    </i>
                  ))}
                </h3>
                <p className="small soft">
                  {own.length
                    ? told(own)
                        .map((r) => r.text)
                        .join(' ')
                    : station === 'game'
                      ? `Left as it is. It must show at least ${(start.rate.num / start.rate.den).toFixed(0)} fps.`
                      : stationWords[station]}
                  {station === 'drive' && forecast.drive && forecast.drive.freeBytes !== null
                    ? ` ${plural(sessionsThatFit(forecast.drive.freeBytes, forecast.bits.value / 8, brief.sessionMinutes, start.rewrap), 'session')} of ${sessionWords(brief.sessionMinutes)} fit.`
                    : ''}
                </p>
              </div>
              <div className="follows-load">
                {station === 'sound' ? (
                  <p className="small n">{sound.figure}</p>
                ) : station === 'size' && !load ? (
                  <p className="small soft">no work here</p>
                ) : (
                  <>
                    <Gauge hue={station} load={load} />
                    <p className="small">
                      {load ? (
                        <>
                          <b className="n">{load.busiest.toFixed(1)}</b>{' '}
                          <span className="soft">
                            of {load.budget.toFixed(load.budget >= 100 ? 0 : 1)} {load.unit}
                          </span>
                        </>
                      ) : (
                        <span className="soft">not known</span>
                      )}
                    </p>
                  </>
                )}
              </div>
            </li>
          );
        })}
      </ol>
      <div className={`follows-figures${current ? '' : ' waiting'}`}>
        <div>
          <p className="soft">Size</p>
          <p className="big">
            <Origin
              origin={forecast.bits.origin}
              from={forecast.bits.from}
              range={`${formatBytes(bytesPerHour(forecast.bits.low))} to ${formatBytes(bytesPerHour(forecast.bits.high))}`}
            >
              {size.value}
            </Origin>
            <span className="unit">{size.unit}/h</span>
          </p>
          <p className="small soft">{formatBitrate(forecast.bits.value)}</p>
        </div>
        <div>
          <p className="soft">Play cost</p>
          <p className="big">
            {cost ? (cost.mean * 100).toFixed(1) : '?'}
            <span className="unit">% mean</span>
          </p>
          <p className="small soft">
            {problem
              ? 'the simulation failed'
              : cost && cost.low !== null
                ? `1 % low ${(cost.low * 100).toFixed(1)} % less`
                : 'is simulated'}
          </p>
        </div>
        <div>
          <p className="soft">Misses</p>
          <p className="big">
            {misses === null ? '?' : misses >= 100 ? misses.toFixed(0) : misses.toFixed(1)}
            <span className="unit">/min</span>
          </p>
          <p className="small soft">
            {reply && misses !== null && misses >= 0.05
              ? `most at ${stationWords[stationNames.toSorted((a, b) => (reply.predicted.byStation[b] ?? 0) - (reply.predicted.byStation[a] ?? 0))[0] ?? 'encode']}`
              : 'none expected'}
          </p>
        </div>
        <div>
          <p className="soft">Picture{forecast.picture.ssim ? ', SSIM' : ''}</p>
          <p className="big">{forecast.picture.ssim ? forecast.picture.ssim.value.toFixed(3) : 'exact'}</p>
          <p className="small soft">{forecast.picture.word}</p>
        </div>
      </div>
    </>
  );
}
