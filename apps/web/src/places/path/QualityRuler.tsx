import { useMemo } from 'react';
import { bytesPerHour, encoderFacts, formatBytes, forecastOf, type QualityWord } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { NumberRail, railPlace } from '../../parts/NumberRail';
import { usePath } from './pathContext';
import { SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

const curveHeight = 52;
const shownFrom = 10;

/** Quality on a ruler that carries the size curve; under it what each stretch looks like. */
export function QualityRuler() {
  const { recipe, setup, context, considered } = usePath();
  const { encode } = recipe;
  const worst = encoderFacts[encode.encoder].quality?.worst ?? 51;
  const set = (quality: number): Recipe => ({ ...recipe, encode: { ...encode, quality } });
  const quality = useConsidering('quality', set);
  const min = Math.min(Math.round((shownFrom * worst) / 51), encode.quality);
  const max = Math.max(Math.round((34 * worst) / 51), encode.quality);
  const forecasts = useMemo(
    () =>
      Array.from({ length: worst + 1 }, (_, q) =>
        forecastOf({ ...recipe, encode: { ...recipe.encode, quality: q } }, context),
      ),
    [recipe, context, worst],
  );
  const gb = (q: number): number => bytesPerHour(forecasts[q]?.bits.value ?? 0) / 1e9;
  const word = (q: number): QualityWord => forecasts[q]?.picture.word ?? 'blocky';
  const top = gb(min) * 1.02;
  const step = niceStep(top / 2);
  const share = (q: number): number => (q - min) / (max - min);
  const height = (q: number): number => curveHeight - Math.min(1, gb(q) / top) * curveHeight;
  const looked = considered?.key === 'quality' ? considered.recipe.encode.quality : null;
  const points = Array.from(
    { length: max - min + 1 },
    (_, i) => `${share(min + i) * 1000},${height(min + i).toFixed(1)}`,
  ).join(' ');
  const minutes = setup.brief.sessionMinutes;
  const other = looked ?? Math.max(min, encode.quality - Math.round((2 * worst) / 51));
  const take = (q: number) => formatBytes((gb(q) * 1e9 * minutes) / 60);
  const session =
    minutes >= 60 ? `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}` : `${minutes} min`;
  return (
    <SettingRow
      setting="quality"
      label={encode.rateControl === 'constant-quantiser' ? 'Quantiser' : 'Quality'}
      note={`At ${other} a take of ${session} is ${take(other)}, at ${encode.quality} it is ${take(encode.quality)}.`}
    >
      <div className="ruler hue-encode">
        <span className="ruler-value">
          <NumberField label="Quality, typed" value={encode.quality} min={0} max={worst} onChange={quality.onChange} />
        </span>
        <div className="ruler-body">
          <div className="ruler-curve" aria-hidden="true">
            {[0, 1, 2]
              .filter((n) => n * step <= top)
              .map((n) => (
                <span key={n} className="ruler-grid" style={{ top: curveHeight * (1 - (n * step) / top) }}>
                  <i className="n small">{n === 0 ? '0 GB/h' : figure(n * step)}</i>
                </span>
              ))}
            <svg viewBox={`0 0 1000 ${curveHeight}`} preserveAspectRatio="none">
              <polyline
                points={points}
                fill="none"
                stroke="var(--encode)"
                strokeWidth="1.5"
                vectorEffect="non-scaling-stroke"
              />
            </svg>
            <Dot
              place={share(encode.quality)}
              top={height(encode.quality)}
              text={`${figure(gb(encode.quality))} GB/h`}
            />
            {looked !== null && share(looked) >= 0 && share(looked) <= 1 && (
              <Dot
                ghost
                left={looked < encode.quality}
                place={share(looked)}
                top={height(looked)}
                text={`${figure(gb(looked))} GB/h`}
              />
            )}
          </div>
          <NumberRail
            bare
            label="Quality"
            hue="encode"
            value={encode.quality}
            min={min}
            max={max}
            start={setup.start.encode.quality}
            marks={[
              min,
              ...[12, 16, 20, 24, 28, 32].map((q) => Math.round((q * worst) / 51)).filter((q) => q > min && q < max),
              max,
            ]}
            onChange={quality.onChange}
            onConsider={quality.onConsider}
          />
          <div className="ruler-words small" aria-hidden="true">
            {wordBands(min, max, word).map(({ word: name, from, to }) => (
              <span
                key={name}
                className={encode.quality >= from && encode.quality <= to ? 'on' : ''}
                style={{
                  left: railPlace(share(Math.max(min, from - 0.5))),
                  width: `calc((100% - 26px) * ${share(Math.min(max, to + 0.5)) - share(Math.max(min, from - 0.5))} - 4px)`,
                }}
              >
                {name}
              </span>
            ))}
          </div>
        </div>
      </div>
    </SettingRow>
  );
}

function Dot({
  place,
  top,
  text,
  ghost,
  left,
}: {
  place: number;
  top: number;
  text: string;
  ghost?: boolean;
  left?: boolean;
}) {
  return (
    <span
      className={`ruler-dot${ghost ? ' ghost' : ''}${left || place > 0.85 ? ' left' : ''}`}
      style={{ left: `${place * 100}%`, top }}
    >
      <i style={{ height: curveHeight - top + 14 }} />
      <b className="n small">{text}</b>
    </span>
  );
}

function figure(gb: number): string {
  return gb >= 9.95 ? gb.toFixed(0) : gb >= 0.995 ? gb.toFixed(1) : gb.toFixed(2);
}

/** The largest of 1, 2, 5 times a power of ten that is not above a figure. */
function niceStep(value: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(0.001, value)));
  return ([5, 2, 1].find((n) => n * power <= value) ?? 1) * power;
}

/** Which word holds from which quality number to which. */
function wordBands(
  min: number,
  max: number,
  wordAt: (quality: number) => QualityWord,
): { word: QualityWord; from: number; to: number }[] {
  const bands: { word: QualityWord; from: number; to: number }[] = [];
  for (let q = min; q <= max; q++) {
    const word = wordAt(q);
    const last = bands[bands.length - 1];
    if (last?.word === word) last.to = q;
    else bands.push({ word, from: q, to: q });
  }
  return bands;
}
