import { useState } from 'react';
import { formatMeanFps, formatMs, signed } from '@mellow/core';
import { stationNames, type GameRun, type PathPlaceName } from '@mellow/model';
import { FateMark } from '../../parts/FateMark';
import { Origin } from '../../parts/Origin';
import { stationWords } from '../../parts/Ribbon';
import { AdviceList } from './AdviceList';
import { DrivePanel } from './DrivePanel';
import { FirstLine, firstIdOf } from './FirstLine';
import { Ladder } from './Ladder';
import { OtherMachineDialog } from './OtherMachineDialog';
import { usePath } from './pathContext';

/** What to do next, what is expected and how sure that is, and the advice, worst first. */
export function ForecastPanel({ station }: { station: PathPlaceName }) {
  const path = usePath();
  const { forecast, machine, machines } = path;
  const [comparing, setComparing] = useState(false);
  return (
    <div className="advice">
      <FirstLine />
      <Ladder />
      <hr className="hairline" style={{ margin: 0 }} />
      {station === 'drive' ? (
        <DrivePanel />
      ) : (
        <>
          <div className="row">
            <h2 className="h3">Forecast</h2>
            <span className="soft clip" title={forecast.basis}>
              {forecast.basis}
            </span>
            {machines.length > 1 && (
              <span className="push">
                <button type="button" className="link" onClick={() => setComparing(true)}>
                  On another machine
                </button>
              </span>
            )}
          </div>
          <PlayCostRows />
          <hr className="hairline" style={{ margin: 0 }} />
          <Figures />
        </>
      )}
      <AdviceList station={station} shownAlready={firstIdOf(path)} />
      {comparing && machine && <OtherMachineDialog onClose={() => setComparing(false)} />}
    </div>
  );
}

function PlayCostRows() {
  const { outlook, outlookIsCurrent, outlookProblem, setup } = usePath();
  if (outlookProblem)
    return (
      <p className="over">
        The simulation failed: {outlookProblem}. Sizes and loads still hold; load the page again for the rest.
      </p>
    );
  if (!outlook) return <p className="soft">Play cost and misses are simulated.</p>;
  const { without, with: during } = outlook.play;
  const rows: [string, (run: GameRun) => number | null][] = [
    ['Play cost, mean', (r) => r.meanFps],
    ['1 % low', (r) => r.onePercentLowFps],
  ];
  const kept = setup.draft.rate.num / setup.draft.rate.den;
  const values = rows.flatMap(([, of]) => [of(without), of(during)]).filter((v): v is number => v !== null);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const [from, to] = [Math.max(0, Math.min(kept * 0.9, low - 8)), Math.max(high, kept) * 1.06];
  const place = (fps: number) => `${((fps - from) / (to - from)) * 100}%`;
  return (
    <div className={`cost-rows${outlookIsCurrent ? '' : ' waiting'}`}>
      <p className="cost-legend small soft">
        <span className="cost-kept">line: {kept.toFixed(0)} fps filed</span>
        <FateMark fate="new" size={10} />
        with
        <svg width="10" height="10" viewBox="-6 -6 12 12" aria-hidden="true">
          <circle r="4.500" fill="none" stroke="var(--game)" strokeWidth="1.500" />
        </svg>
        without
      </p>
      {rows.map(([name, of]) => {
        const [a, b] = [of(without), of(during)];
        if (a === null || b === null)
          return (
            <p key={name} className="cost-row">
              <span>{name}</span>
              <span className="soft small">too few frames</span>
            </p>
          );
        return (
          <p
            key={name}
            className="cost-row"
            aria-label={`${name}: ${formatMeanFps(b)} with, ${formatMeanFps(a)} without, ${signed((b / a - 1) * 100, 1)} %`}
          >
            <span>{name}</span>
            <span className="cost-line" aria-hidden="true">
              <u style={{ left: place(kept) }} title={`${kept.toFixed(0)} fps are filed`} />
              <i style={{ left: place(b), width: `calc(${place(a)} - ${place(b)})` }} />
              <b style={{ left: place(b) }} />
              <em style={{ left: place(a) }} />
              <span className="n small" style={{ right: `calc(100% - ${place(b)} + 9px)` }}>
                <strong>{b.toFixed(0)}</strong>
              </span>
              <span className="n small soft" style={{ left: `calc(${place(a)} + 9px)` }}>
                {a.toFixed(0)}
              </span>
            </span>
            <span className="n right">
              <Origin
                origin="fitted"
                from="simulated with and without recording on one draw of the next ten seconds, loading left out"
              >
                {signed((b / a - 1) * 100, 1)} %
              </Origin>
            </span>
          </p>
        );
      })}
      <p className="small soft">
        In busy passages {signed(-outlook.predicted.playCost.high * 100, 1)} to{' '}
        {signed(-outlook.predicted.playCost.low * 100, 1)} %, as far as work and sharing are known.
      </p>
    </div>
  );
}

function Figures() {
  const { forecast, outlook, outlookIsCurrent, machine } = usePath();
  const { picture, smallText, secondsLost } = forecast;
  const misses = outlook?.predicted.missesPerMinute;
  const { ssim } = picture;
  return (
    <div className="advice-figures">
      <div className={outlookIsCurrent ? '' : 'waiting'}>
        <p className="soft">Misses</p>
        <p className="big">
          {misses ? (
            <Origin
              origin="fitted"
              from={`simulated over ${outlook.predicted.seeds} draws of each passage${machine?.origin === 'simulated' ? ' on a simulated machine' : ''}`}
              range={`${misses.low.toFixed(1)} to ${misses.high.toFixed(1)}`}
            >
              {rounded(misses.value)}
            </Origin>
          ) : (
            '?'
          )}
          <span className="unit">/min</span>
        </p>
        <p className="small soft">
          {misses && misses.value >= 0.05
            ? stationNames
                .flatMap((s) => {
                  const n = outlook.predicted.byStation[s];
                  return n && n >= 0.05 ? [`${stationWords[s]} ${rounded(n)}`] : [];
                })
                .join(', ')
            : misses
              ? 'none expected'
              : 'is simulated'}
        </p>
      </div>
      <div>
        <p className="soft">Picture{ssim ? ', SSIM' : ''}</p>
        <p className="big">
          {ssim ? (
            <Origin origin={ssim.origin} from={ssim.from} range={`${ssim.low.toFixed(3)} to ${ssim.high.toFixed(3)}`}>
              {ssim.value.toFixed(3)}
            </Origin>
          ) : (
            'exact'
          )}
        </p>
        <p className="small">
          <b>{ssim ? picture.word : 'lossless'}</b>
          <span className="soft">
            , text {smallText.filePx.toFixed(0)} of {smallText.gamePx} px
          </span>
        </p>
      </div>
      <div>
        <p className="soft">If the recorder dies</p>
        <p className="big">
          <Origin
            origin="typical"
            from="a cluster of 1 s, half a second on its way, and the pictures the encoder holds"
          >
            {secondsLost.toFixed(1)}
          </Origin>
          <span className="unit">s lost</span>
        </p>
        <p className="small soft">{outlook ? `delay ${formatMs(outlook.predicted.delayMs)}` : 'at most'}</p>
      </div>
    </div>
  );
}

function rounded(n: number): string {
  return n >= 100 ? n.toFixed(0) : n.toFixed(1);
}
