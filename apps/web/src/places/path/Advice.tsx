import { bytesPerMinute, formatBytes, formatCount, formatMeanFps, formatMs, minutesPerGigabyte, playCostShare, secondsLostIfKilled, signed, type Clash, type Forecast } from '@mellow/core';
import type { DriveState, GameRun, PlayCost, Recipe, Setup, Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { FateMark } from '../../parts/FateMark';

interface AdviceProps {
  setup: Setup;
  trials: Take[];
  forecast: Forecast;
  clashes: Clash[];
  drive: DriveState | null;
  onRecipe: (recipe: Recipe) => void;
}

/** What to do next, what is expected, and how sure that is. */
export function Advice({ setup, trials, forecast, clashes, drive, onRecipe }: AdviceProps) {
  const last = trials.find((t) => t.verdict) ?? null;
  const paired = trials.find((t) => t.playCost) ?? null;
  const rate = forecast.bitsPerSecond;
  const lost = secondsLostIfKilled(setup.draft);
  return (
    <div className="advice">
      <Next clashes={clashes} last={last} drive={drive} onRecipe={onRecipe} ofThisRecipe={forecast.loadsAreOfThisRecipe} />
      <hr className="hairline" style={{ margin: 0 }} />
      <div className="row"><h3>Forecast</h3><span className="soft">{forecast.originText}</span></div>
      <div className="advice-figures">
        <div>
          <p className="soft">A minute</p>
          <p className="big">{rate ? formatBytes(bytesPerMinute(rate.value)).split(' ')[0] : '?'}<span className="unit">{rate ? formatBytes(bytesPerMinute(rate.value)).split(' ')[1] : 'MB'}</span></p>
          {rate && <p className="small soft">{formatBytes(bytesPerMinute(rate.low))} to {formatBytes(bytesPerMinute(rate.high))}</p>}
        </div>
        <div>
          <p className="soft">Per gigabyte</p>
          <p className="big">{rate ? minutesPerGigabyte(rate.value).toFixed(1) : '?'}<span className="unit">min</span></p>
          <p className="small soft">1 GB = 10⁹ bytes</p>
        </div>
        <div>
          <p className="soft">If the recorder dies</p>
          <p className="big">{lost === null ? 'all' : lost.toFixed(1)}<span className="unit">{lost === null ? 'is lost' : 's lost'}</span></p>
          <p className="small soft">{lost === null ? 'plain MP4' : 'at most'}</p>
        </div>
      </div>
      {paired?.playCost && (
        <>
          <hr className="hairline" style={{ margin: 0 }} />
          <PlayCostTable cost={paired.playCost} from={`trial ${paired.number}`} />
        </>
      )}
    </div>
  );
}

const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1).replace(/\.$/, '');

function Next({ clashes, last, drive, onRecipe, ofThisRecipe }: { clashes: Clash[]; last: Take | null; drive: DriveState | null; onRecipe: (recipe: Recipe) => void; ofThisRecipe: boolean }) {
  const clash = clashes[0];
  if (clash) {
    return (
      <div className="advice-head" role="status">
        <div><h2 className={clash.weight === 'stops' ? 'over' : undefined}>{clash.title}</h2><p className="soft">{clash.text}</p></div>
        <Button onClick={() => onRecipe(clash.remedy.recipe)}>{clash.remedy.label}</Button>
      </div>
    );
  }
  if (drive?.problem) return <div><h2 className="over">The drive cannot be used</h2><p className="soft">{drive.problem}</p></div>;
  const finding = ofThisRecipe ? last?.verdict?.findings.find((f) => f.change) : undefined;
  if (finding && last) {
    return (
      <div className="advice-head">
        <div><h2>Next: {lowerFirst(finding.change ?? '')}</h2><p className="soft">Trial {last.number}: {finding.title}.</p></div>
        <Button to={`/takes/${last.id}`}>See trial {last.number}</Button>
      </div>
    );
  }
  if (last && ofThisRecipe && last.verdict?.mark === 'keep') return <div><h2>Nothing has to change: trial {last.number} lost nothing that counts</h2><p className="soft">Repeat it unchanged to see how much equal recipes differ, or change one thing.</p></div>;
  if (last && ofThisRecipe) return <div><h2>Next: make the trial again</h2><p className="soft">Trial {last.number} of this recipe: {last.verdict?.sentence}</p></div>;
  return <div><h2>Next: make a trial of this recipe</h2><p className="soft">{last ? `Loads are those of trial ${last.number}, which had another recipe.` : 'Ten seconds tell size, misses and play cost.'}</p></div>;
}

/** One pair: the same passage without and with recording. */
export function PlayCostTable({ cost, from }: { cost: PlayCost; from: string }) {
  const low = (run: GameRun) => (run.onePercentLowFps === null ? null : run.onePercentLowFps);
  const lows = [low(cost.with), low(cost.without)] as const;
  return (
    <div>
      <p className="row"><b>Play cost</b><span className="soft small">{from}: one pair, no interval yet</span></p>
      <div className="cost">
        <span>mean</span>
        <span><FateMark fate="new" size={10} /> </span>
        <span><span className="n">{formatMeanFps(cost.with.meanFps)}</span> <span className="soft">with, {formatMeanFps(cost.without.meanFps)} without, {signed(-playCostShare(cost.with.meanFps, cost.without.meanFps) * 100, 1)} %</span></span>
        {lows[0] !== null && lows[1] !== null ? (
          <>
            <span>1 % low</span><span />
            <span><span className="n">{formatMeanFps(lows[0])}</span> <span className="soft">with, {formatMeanFps(lows[1])} without</span></span>
          </>
        ) : (
          <>
            <span>slowest</span><span />
            <span><span className="n">{formatMs(cost.with.slowestMs[0] ?? 0)}</span> <span className="soft">with, {formatMs(cost.without.slowestMs[0] ?? 0)} without; a 1 % low needs 1 000 frames, here are {formatCount(cost.with.frames)}</span></span>
          </>
        )}
      </div>
    </div>
  );
}
