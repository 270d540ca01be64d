import {
  cadenceOf,
  formatFps,
  formatRate,
  formatRateExact,
  framesPerSecond,
  parseFrameRate,
  plural,
  slowMotionFactor,
} from '@mellow/core';
import type { FrameRate, Recipe } from '@mellow/model';
import { TypedField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { usePath } from './pathContext';
import { PlainRow, SettingRow } from './SettingRow';
import { SourceSettings } from './SourceSettings';
import { useConsidering } from './useConsidering';

const rates = ['24', '25', '30', '50', '60', '120'] as const;
const fractions = ['24000/1001', '30000/1001', '60000/1001', '240'] as const;

/** A rate of its own; the distance of key pictures keeps its seconds. */
export function withRate(recipe: Recipe, rate: FrameRate): Recipe {
  const frames = Math.round(
    (recipe.encode.keyDistanceFrames * rate.num * recipe.rate.den) / (rate.den * recipe.rate.num),
  );
  return { ...recipe, rate, encode: { ...recipe.encode, keyDistanceFrames: Math.min(2000, Math.max(1, frames)) } };
}

export function CaptureSettings() {
  const { recipe, setup } = usePath();
  const exact = formatRateExact(recipe.rate);
  const parsed = (text: string): FrameRate => parseFrameRate(text) ?? recipe.rate;
  const rate = useConsidering('rate', (text: string) => withRate(recipe, parsed(text)));
  const { game, brief, start } = setup;
  const drawn = game.capFps ?? game.facts.freeFps;
  const fps = framesPerSecond(recipe.rate);
  const slow = slowMotionFactor(brief.shownFps, fps);
  return (
    <>
      <SourceSettings />
      <SettingRow
        setting="rate"
        label="Frame rate"
        note={
          drawn === null
            ? 'The game’s own rate is not known.'
            : fps > drawn
              ? `The game shows ${formatFps(drawn)}: of ${formatRate(recipe.rate)} at least ${formatFps(fps - drawn)} will be repeats.`
              : `The game shows up to ${formatFps(drawn)}, ${(drawn / fps).toFixed(2)} for each frame of the file.`
        }
      >
        <Rail
          label="Frame rate"
          hue="capture"
          value={rates.find((r) => r === exact) ?? null}
          start={rates.find((r) => r === formatRateExact(start.rate))}
          choices={rates.map((r) => ({ value: r, label: r }))}
          {...rate}
        />
        <TypedField
          label="Frame rate, typed"
          text={exact}
          unit="fps"
          numeric
          parse={(text) => {
            const value = parseFrameRate(text);
            return value
              ? { value: text }
              : { problem: `"${text}" is no rate from 1 to 480. Write 60, 29.97 or 30000/1001.` };
          }}
          onChange={rate.onChange}
        />
      </SettingRow>
      <PlainRow label="Fractions">
        <Rail
          label="Fractions and high rates"
          hue="capture"
          value={fractions.find((r) => r === exact) ?? null}
          start={fractions.find((r) => r === formatRateExact(start.rate))}
          choices={fractions.map((r) => ({ value: r, label: formatRate(parsed(r)) }))}
          onChange={rate.onChange}
          onConsider={rate.onConsider}
        />
      </PlainRow>
      <PlainRow
        label="Shown at"
        under={
          brief.purpose === 'slow-motion' ? null : (
            <CadenceStrip from={recipe.rate} to={{ num: brief.shownFps, den: 1 }} />
          )
        }
      >
        <span>
          {formatFps(brief.shownFps)}{' '}
          <span className="soft">
            {brief.purpose === 'slow-motion'
              ? `each frame once: ${(slow * 100).toFixed(0)} % of the speed`
              : 'largest rate of the destination, as the brief says'}
          </span>
        </span>
      </PlainRow>
    </>
  );
}

const shownFrames = 24;

/** Which frames of the file a conversion shows, repeats or drops, and how uneven that is. */
export function CadenceStrip({ from, to }: { from: FrameRate; to: FrameRate }) {
  const cadence = cadenceOf(from, to);
  if (cadence.repeat === 0 && cadence.vanish === 0)
    return (
      <p className="small soft">
        {formatRate(from)} shown at {formatRate(to)}: every frame once, perfectly even.
      </p>
    );
  // The pattern comes again after a cycle; a short one is drawn until the strip is full.
  const cycle = Array.from(
    { length: shownFrames },
    (_, n) =>
      (cadence.shows[n % cadence.shows.length] ?? 0) + Math.floor(n / cadence.shows.length) * cadence.sourceFrames,
  );
  const words = [
    cadence.repeat ? `${plural(cadence.repeat, 'frame')} of ${cadence.outputFrames} shown again` : '',
    cadence.vanish ? `${plural(cadence.vanish, 'frame')} of ${cadence.sourceFrames} never shown` : '',
  ]
    .filter(Boolean)
    .join(', ');
  return (
    <div className="cadence">
      <svg width={shownFrames * 12} height="14" role="img" aria-label={`Cadence: ${words}`}>
        {cycle.map((frame, i) => {
          const again = i > 0 && cycle[i - 1] === frame;
          const skipped = i > 0 && frame - (cycle[i - 1] ?? frame) > 1;
          return (
            <g key={i} transform={`translate(${i * 12} 0)`}>
              {again ? (
                <circle cx="5" cy="7" r="3.500" fill="none" stroke="var(--soft)" strokeWidth="1.500" />
              ) : (
                <rect x="1" y="3" width="8" height="8" fill="var(--capture)" />
              )}
              {skipped && <path d="M-1 1v12" stroke="var(--ink)" strokeWidth="1.500" />}
            </g>
          );
        })}
      </svg>
      <p className="small soft">
        {formatRate(from)} shown at {formatRate(to)}: {words}; uneven by {cadence.unevenMs.toFixed(1)} ms. Ring: again;
        stroke: a frame is left out.
      </p>
    </div>
  );
}
