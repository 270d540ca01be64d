import { errorOf, formatBitrate, formatCount, formatMs, signed } from '@mellow/core';
import { stationNames, type Take } from '@mellow/model';
import { stationWords } from '../../parts/Ribbon';
import { QuietHeading } from '../../parts/QuietHeading';

interface Row {
  name: string;
  predicted: string;
  found: string;
  off: string;
  within: boolean | null;
}

/** What the forecast said before the take was made, against what was found. */
export function Predicted({ take }: { take: Take }) {
  const rows = predictedRows(take);
  if (!rows.length) return null;
  return (
    <details className="predicted">
      <summary>
        <b>Predicted and found</b> <span className="soft">{summaryOf(take)}</span>
      </summary>
      <table className="facts">
        <thead>
          <tr>
            <QuietHeading name="figure" />
            <th>predicted</th>
            <th>found</th>
            <th>off by</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.name}>
              <td className="soft">{row.name}</td>
              <td>{row.predicted}</td>
              <td>{row.found}</td>
              <td className={row.within === false ? '' : 'soft'}>
                {row.off}
                {row.within === null ? '' : row.within ? ', in its range' : ', out of its range'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function summaryOf(take: Take): string {
  const error = errorOf(take);
  return error?.bitsRatio
    ? `size ${signed((error.bitsRatio - 1) * 100, 0)} % off; kept, so that the next forecast is narrower`
    : 'kept, so that the next forecast is narrower';
}

export function predictedRows(take: Take): Row[] {
  const { prediction, summary, facts, playCost } = take;
  if (!prediction || !summary || !facts) return [];
  const seconds = (summary.due * take.recipe.rate.den) / take.recipe.rate.num;
  const rows: Row[] = [];
  const { bitsPerSecond: bits, missesPerMinute: misses, gameFps } = prediction;
  if (bits && seconds > 0) {
    const found = (facts.bytes * 8) / seconds;
    rows.push({
      name: 'Size',
      predicted: `${formatBitrate(bits.value)} (${formatBitrate(bits.low)} to ${formatBitrate(bits.high)})`,
      found: formatBitrate(found),
      off: `${signed((found / bits.value - 1) * 100, 0)} %`,
      within: found >= bits.low && found <= bits.high,
    });
  }
  if (prediction.ssim && take.likeness) {
    const { value, low, high } = prediction.ssim;
    const found = take.likeness.ssim;
    rows.push({
      name: 'Picture, SSIM',
      predicted: `${value.toFixed(3)} (${low.toFixed(3)} to ${high.toFixed(3)})`,
      found: found.toFixed(3),
      off: signed(found - value, 3),
      within: found >= low && found <= high,
    });
  }
  const usual = summary.loads.encode?.usualMs;
  if (prediction.encodeMs && usual !== undefined) {
    const { value, low, high } = prediction.encodeMs;
    rows.push({
      name: 'Encode, usual',
      predicted: `${formatMs(value)} (${formatMs(low)} to ${formatMs(high)})`,
      found: formatMs(usual),
      off: `${signed((usual / value - 1) * 100, 0)} %`,
      within: usual >= low && usual <= high,
    });
  }
  for (const station of stationNames) {
    const [was, load] = [prediction.busiestMs[station], summary.loads[station]];
    if (was === null || was === undefined || !load || was <= 0) continue;
    rows.push({
      name: `${stationWords[station]}, busiest 1 %`,
      predicted: formatMs(was),
      found: formatMs(load.busiestMs),
      off: `${signed((load.busiestMs / was - 1) * 100, 0)} %`,
      within: null,
    });
  }
  const lost = summary.due - summary.filed;
  const perMinute = seconds > 0 ? (lost * 60) / seconds : 0;
  rows.push({
    name: 'Misses a minute',
    predicted: `${misses.value.toFixed(1)} (${misses.low.toFixed(1)} to ${misses.high.toFixed(1)})`,
    found: `${perMinute.toFixed(1)}, ${formatCount(lost)} lost`,
    off: signed(perMinute - misses.value, 1),
    within: perMinute >= misses.low - 0.05 && perMinute <= misses.high + 0.05,
  });
  if (gameFps && playCost)
    rows.push({
      name: 'Game while recording',
      predicted: `${gameFps.with.toFixed(0)} of ${gameFps.without.toFixed(0)} fps`,
      found: `${playCost.with.meanFps.toFixed(0)} of ${playCost.without.meanFps.toFixed(0)} fps`,
      off: `${signed((playCost.with.meanFps / gameFps.with - 1) * 100, 0)} %`,
      within: null,
    });
  return rows;
}
