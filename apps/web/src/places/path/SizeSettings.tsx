import {
  fillStretch,
  filterWords,
  fitInto,
  fitWords,
  formatPercent,
  formatSize,
  nothingToScale,
  pixelShare,
  shapeName,
  sizeByPercent,
  sizesBelow,
} from '@mellow/core';
import { fits, scalingFilters, type Fit, type Recipe, type ScalingFilter } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { CameraSettings } from './CameraSettings';
import { usePath } from './pathContext';
import { PlainRow, SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

const sizeText = (s: { widthPx: number; heightPx: number }): string => `${s.widthPx}x${s.heightPx}`;
/** Shares of the pixels, each with the size of that area and of the game's shape. */
const kept = ['all', 'half', 'a third', 'a quarter'] as const;
const keptShares: Record<(typeof kept)[number], number> = { all: 1, half: 1 / 2, 'a third': 1 / 3, 'a quarter': 1 / 4 };

export function SizeSettings() {
  const { recipe, setup, forecast } = usePath();
  const { size } = recipe;
  const { game, start } = setup;
  const set = (part: Partial<Recipe['size']>): Recipe => ({ ...recipe, size: { ...size, ...part } });
  const bySize = useConsidering('size', (text: string) => {
    const [widthPx, heightPx] = text.split('x').map(Number);
    return set({ widthPx: widthPx ?? size.widthPx, heightPx: heightPx ?? size.heightPx });
  });
  const filter = useConsidering('filter', (value: ScalingFilter) => set({ filter: value }));
  const fit = useConsidering('fit', (value: Fit) => set({ fit: value }));
  const offered = sizesBelow(game).slice(0, 5);
  const keeping = (share: (typeof kept)[number]): string =>
    sizeText(sizeByPercent(game, 100 * Math.sqrt(keptShares[share])));
  const share = kept.find((k) => keeping(k) === sizeText(size)) ?? null;
  return (
    <>
      <SettingRow setting="size" label="Filed at" note={sizeNote(recipe, game, forecast.smallText)}>
        <Rail
          label="Filed at"
          hue="size"
          value={offered.some((s) => sizeText(s) === sizeText(size)) ? sizeText(size) : null}
          start={sizeText(start.size)}
          choices={offered.map((s, i) => ({
            value: sizeText(s),
            label: formatSize(s.widthPx, s.heightPx),
            ...(i === 0 ? { hint: 'as played' } : {}),
          }))}
          {...bySize}
        />
      </SettingRow>
      <PlainRow label="Pixels kept">
        <Rail
          label="Pixels kept"
          hue="size"
          value={share}
          choices={kept.map((k) => ({ value: k, label: k }))}
          onChange={(k) => bySize.onChange(keeping(k))}
          onConsider={(k) => bySize.onConsider(k === null ? null : keeping(k))}
        />
      </PlainRow>
      <PlainRow label="Free size">
        <NumberField
          label="Width"
          value={size.widthPx}
          min={64}
          max={7680}
          unit="wide"
          onChange={(widthPx) => bySize.onChange(sizeText({ ...size, widthPx }))}
        />
        <NumberField
          label="Height"
          value={size.heightPx}
          min={64}
          max={4320}
          unit="high"
          onChange={(heightPx) => bySize.onChange(sizeText({ ...size, heightPx }))}
        />
      </PlainRow>
      <SettingRow setting="fit" label="Other shape">
        <Rail
          label="Other shape"
          hue="size"
          value={size.fit}
          start={start.size.fit}
          choices={fits.map((f) => ({ value: f, label: fitWords[f] }))}
          {...fit}
        />
      </SettingRow>
      <SettingRow setting="filter" label="Filter">
        <Rail
          label="Filter"
          hue="size"
          value={size.filter}
          start={start.size.filter}
          choices={scalingFilters.map((f) => ({ value: f, label: filterWords[f].result, hint: filterWords[f].method }))}
          {...filter}
        />
      </SettingRow>
      <CameraSettings />
    </>
  );
}

function sizeNote(
  { size }: Recipe,
  game: { widthPx: number; heightPx: number },
  text: { filePx: number; gamePx: number },
): string {
  if (nothingToScale(game, size)) return `The same pixels that the game draws, ${shapeName(game)}: nothing to scale.`;
  const fitted = fitInto(game, size, size.fit);
  const stretch = fillStretch(game, size);
  const shape =
    Math.abs(stretch - 1) <= 0.002
      ? `${shapeName(size)}, as the game’s`
      : size.fit === 'bars'
        ? `${shapeName(game)} in ${shapeName(size)}: bars of ${fitted.barsPx.top ? `${fitted.barsPx.top} px above and below` : `${fitted.barsPx.side} px at each side`}`
        : size.fit === 'fill'
          ? `${shapeName(game)} in ${shapeName(size)}: ${formatPercent(fitted.cutShare)} cut off`
          : `${shapeName(game)} in ${shapeName(size)}: stretched by ${stretch.toFixed(3)}`;
  const larger =
    size.widthPx > game.widthPx || size.heightPx > game.heightPx
      ? ' Larger than the game: enlarged pixels, no more detail.'
      : '';
  return `${formatPercent(pixelShare(game, size))} of the game’s pixels, ${shape}. Small text ${text.filePx.toFixed(1)} of ${text.gamePx} px.${larger}`;
}
