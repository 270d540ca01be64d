import { fillStretch, filterWords, formatPercent, formatSize, nothingToScale, pixelShare, shapeOf, sizesBelow } from '@mellow/core';
import { scalingFilters } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { Setting } from './Setting';
import type { StationSettingsProps } from './StationSheet';

export function SizeSettings({ setup, onRecipe }: StationSettingsProps) {
  const recipe = setup.draft;
  const { size } = recipe;
  const set = (part: Partial<typeof size>) => onRecipe({ ...recipe, size: { ...size, ...part } });
  const offered = sizesBelow(setup.game).slice(0, 5);
  const value = (s: { widthPx: number; heightPx: number }) => `${s.widthPx}x${s.heightPx}`;
  const plain = nothingToScale(setup.game, size);
  const stretch = fillStretch(setup.game, size);
  const larger = size.widthPx > setup.game.widthPx || size.heightPx > setup.game.heightPx;
  return (
    <>
      <Setting label="Filed at">
        <Rail label="Filed at" hue="size" value={offered.some((s) => value(s) === value(size)) ? value(size) : null} start={value(setup.start.size)} choices={offered.map((s, i) => ({ value: value(s), label: formatSize(s.widthPx, s.heightPx), ...(i === 0 ? { hint: 'the game’s own' } : {}) }))}
          onChange={(v) => { const [widthPx, heightPx] = v.split('x').map(Number); set({ widthPx: widthPx ?? 1280, heightPx: heightPx ?? 720 }); }} />
      </Setting>
      <Setting label="Free size" why={plain ? 'The same pixels that the game draws: nothing to scale.' : `${formatPercent(pixelShare(setup.game, size))} of the game’s pixels, shape ${shapeOf(size)}${Math.abs(stretch - 1) > 0.005 ? `; the game’s is ${shapeOf(setup.game)}, so the picture is stretched by ${stretch.toFixed(3)}` : ', as the game’s'}.${larger ? ' Larger than the game: enlarged pixels, no more detail.' : ''}`}>
        <NumberField label="Width" value={size.widthPx} min={64} max={7680} unit="wide" onChange={(widthPx) => set({ widthPx })} />
        <NumberField label="Height" value={size.heightPx} min={64} max={4320} unit="high" onChange={(heightPx) => set({ heightPx })} />
      </Setting>
      <Setting label="Filter" why={plain ? undefined : 'Crisp keeps most detail when scaling down and costs most; quick costs least.'}>
        <Rail label="Filter" hue="size" value={size.filter} start={setup.start.size.filter} quiet={plain ? 'nothing is scaled; it works at another size than the game’s' : undefined} choices={scalingFilters.map((f) => ({ value: f, label: filterWords[f].result, hint: filterWords[f].method }))} onChange={(filter) => set({ filter })} />
      </Setting>
    </>
  );
}
