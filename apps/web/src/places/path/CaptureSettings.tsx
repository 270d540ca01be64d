import { formatRateExact, parseFrameRate } from '@mellow/core';
import { TypedField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { Setting } from './Setting';
import type { StationSettingsProps } from './StationSheet';

const rates = ['24', '25', '30', '50', '60', '120'] as const;

export function CaptureSettings({ setup, onRecipe }: StationSettingsProps) {
  const recipe = setup.draft;
  const change = (rate: { num: number; den: number }) =>
    onRecipe({ ...recipe, rate, encode: { ...recipe.encode, keyDistanceFrames: Math.max(1, Math.round((recipe.encode.keyDistanceFrames * rate.num * recipe.rate.den) / (rate.den * recipe.rate.num))) } });
  const exact = formatRateExact(recipe.rate);
  const cap = setup.game.capFps;
  return (
    <>
      <Setting label="Source" why="The practice game hands its finished pictures over; nothing else on the screen can slip in.">
        <span>Straight from the game</span>
      </Setting>
      <Setting label="Frame rate" why="60 for anything with motion, 30 for talk and desktop; above 60 only for slow motion. The distance of key pictures keeps its seconds.">
        <Rail label="Frame rate" hue="capture" value={rates.find((r) => r === exact) ?? null} start={rates.find((r) => r === formatRateExact(setup.start.rate))} choices={rates.map((r) => ({ value: r, label: r }))} onChange={(r) => change({ num: Number(r), den: 1 })} />
        <TypedField label="Frame rate, typed" text={exact} unit="fps" numeric parse={(text) => { const value = parseFrameRate(text); return value ? { value } : { problem: `"${text}" is no rate from 1 to 512. Write 60, 29.97 or 30000/1001.` }; }} onChange={change} />
      </Setting>
      {cap !== null && cap < recipe.rate.num / recipe.rate.den && (
        <p className="small over">The game is capped at {cap} fps, below the file’s rate: every due frame it has not drawn will be a repeat.</p>
      )}
    </>
  );
}
