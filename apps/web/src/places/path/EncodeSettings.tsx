import { effortWords, formatCount, framesPerSecond, plural, rateControlWords } from '@mellow/core';
import { efforts, rateControls } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { NumberRail } from '../../parts/NumberRail';
import { Rail } from '../../parts/Rail';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { allSettingsToggled } from '../../store/uiSlice';
import { Setting } from './Setting';
import type { StationSettingsProps } from './StationSheet';

const yesNo = [{ value: 'on', label: 'on' }, { value: 'off', label: 'off' }] as const;
const bChoices = ['0', '1', '2', '3', '4'] as const;

export function EncodeSettings({ setup, machine, onRecipe }: StationSettingsProps) {
  const all = useAppSelector((state) => state.ui.allSettings);
  const dispatch = useAppDispatch();
  const recipe = setup.draft;
  const { encode } = recipe;
  const start = setup.start.encode;
  const set = (part: Partial<typeof encode>) => onRecipe({ ...recipe, encode: { ...encode, ...part } });
  const fps = framesPerSecond(recipe.rate);
  return (
    <>
      <Setting label="Encoder">
        <span>AVC in software{machine ? `, ${plural(machine.cores, 'core')}` : ''}: it shares the processor with the game</span>
      </Setting>
      <Setting label="Effort" why="The lightest loads the game least; a heavier one makes the file smaller at one quality. A trial tells how much.">
        <Rail label="Effort" hue="encode" value={encode.effort} start={start.effort} choices={efforts.map((e) => ({ value: e, label: effortWords[e] }))} onChange={(effort) => set({ effort })} />
      </Setting>
      <Setting label="Rate">
        <Rail label="Rate" hue="encode" value={encode.rateControl} start={start.rateControl} choices={rateControls.map((r) => ({ value: r, label: rateControlWords[r] }))} onChange={(rateControl) => set({ rateControl })} />
      </Setting>
      {encode.rateControl === 'constant-quality' ? (
        <Setting label="Quality" why="Lower is better and larger; 6 steps about halve or double the file. 18 is usual for short takes, 20 for long ones, 30 is clearly bad.">
          <NumberRail label="Quality" hue="encode" value={encode.quality} min={0} max={51} start={start.quality} marks={[0, 10, 15, 20, 25, 30, 40, 51]} onChange={(quality) => set({ quality })} />
        </Setting>
      ) : (
        <>
          <Setting label="Bitrate" why="A constant rate is foreseeable and wasteful in quiet scenes. 8 000 to 16 000 kb/s are usual for 1080 lines at 60 fps.">
            <NumberRail logarithmic label="Bitrate" hue="encode" value={encode.bitrateKbps} min={500} max={100_000} step={100} unit="kb/s" start={start.bitrateKbps} marks={[500, 2000, 6000, 16_000, 50_000]} format={formatCount} onChange={(bitrateKbps) => set({ bitrateKbps })} />
          </Setting>
          {encode.rateControl === 'variable-bitrate' && (
            <Setting label="Ceiling">
              <NumberRail logarithmic label="Ceiling" hue="encode" value={encode.ceilingKbps} min={500} max={150_000} step={100} unit="kb/s" start={start.ceilingKbps} marks={[500, 2000, 6000, 16_000, 50_000]} format={formatCount} onChange={(ceilingKbps) => set({ ceilingKbps })} />
            </Setting>
          )}
        </>
      )}
      {all && (
        <>
          <Setting label="Key pictures" why={`One every ${(encode.keyDistanceFrames / fps).toFixed(2)} s. Every 2 s is usual; some editors want one every 15 frames, which costs room.`}>
            <NumberField label="Key pictures every" value={encode.keyDistanceFrames} min={1} max={2000} unit="frames" onChange={(keyDistanceFrames) => set({ keyDistanceFrames })} />
            <Rail label="Closed groups" hue="encode" value={encode.closedGroups ? 'on' : 'off'} choices={yesNo.map((c) => ({ ...c, label: c.value === 'on' ? 'closed groups' : 'open' }))} onChange={(v) => set({ closedGroups: v === 'on' })} />
          </Setting>
          <Setting label="B-frames" why="2 save 9 to 15 % of the bits and cost about a quarter more processor; 0 is lightest.">
            <Rail label="B-frames" hue="encode" value={bChoices.find((b) => b === String(encode.bFrames)) ?? null} start={bChoices.find((b) => b === String(start.bFrames))} choices={bChoices.map((b) => ({ value: b, label: b }))} onChange={(b) => set({ bFrames: Number(b) })} />
          </Setting>
          <Setting label="Low delay" why="Lets no picture wait. At the lightest effort it changes nothing; above, one quality number then means a larger file.">
            <Rail label="Low delay" hue="encode" value={encode.lowDelay ? 'on' : 'off'} start={start.lowDelay ? 'on' : 'off'} choices={yesNo} onChange={(v) => set({ lowDelay: v === 'on' })} />
          </Setting>
          <Setting label="Colour" why="Rec. 709, 4:2:0, tagged so. Limited range is what players expect; full only where the editor asks for it.">
            <Rail label="Colour range" hue="encode" value={encode.range} start={start.range} choices={[{ value: 'limited', label: 'limited range' }, { value: 'full', label: 'full range' }]} onChange={(range) => set({ range })} />
          </Setting>
        </>
      )}
      <button type="button" className="link" aria-expanded={all} onClick={() => dispatch(allSettingsToggled())}>
        {all ? 'Few settings' : 'All 9 settings'}
      </button>
    </>
  );
}
