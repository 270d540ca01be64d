import { encoderFacts, encoderWords, framesPerSecond, listWords, pixelWords, profileWords } from '@mellow/core';
import { pixelKinds, type PixelKind, type Profile } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import type { SetProps } from './EncodeSettings';
import { usePath } from './pathContext';
import { onOff, RareEncodeSettings } from './RareEncodeSettings';
import { SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

const bChoices = ['0', '1', '2', '3', '4'] as const;

const keySteps = ['0.5', '1', '2', '4', '10'] as const;
const threadSteps = ['0', '1', '2', '4', '8'] as const;

/** What is seldom changed of Encode. */
export function FurtherEncodeSettings({ set }: SetProps) {
  const { recipe, setup, change } = usePath();
  const { encode } = recipe;
  const start = setup.start.encode;
  const facts = encoderFacts[encode.encoder];
  const fps = framesPerSecond(recipe.rate);
  const key = useConsidering('keyDistance', (keyDistanceFrames: number) => set({ keyDistanceFrames }));
  const groups = useConsidering('groups', (value: 'closed' | 'open') => set({ closedGroups: value === 'closed' }));
  const bFrames = useConsidering('bFrames', (value: string) => set({ bFrames: Number(value) }));
  const lowDelay = useConsidering('lowDelay', (value: 'on' | 'off') => set({ lowDelay: value === 'on' }));
  const pixels = useConsidering('pixels', (value: PixelKind) => set({ pixels: value }));
  const profile = useConsidering('profile', (value: Profile) => set({ profile: value }));
  const threads = useConsidering('threads', (value: string) => set({ threads: Number(value) }));
  const range = useConsidering('range', (value: 'limited' | 'full') => set({ range: value }));
  return (
    <>
      <SettingRow
        setting="keyDistance"
        label="Key pictures"
        note={key.quiet ?? `One every ${(encode.keyDistanceFrames / fps).toFixed(2)} s.`}
      >
        <Rail
          label="Key pictures"
          hue="encode"
          value={keySteps.find((s) => Math.round(Number(s) * fps) === encode.keyDistanceFrames) ?? null}
          start={keySteps.find(
            (s) => Math.round(Number(s) * framesPerSecond(setup.start.rate)) === start.keyDistanceFrames,
          )}
          choices={keySteps.map((s) => ({ value: s, label: `${s} s` }))}
          onChange={(s) => key.onChange(Math.max(1, Math.round(Number(s) * fps)))}
          onConsider={(s) => key.onConsider(s === null ? null : Math.max(1, Math.round(Number(s) * fps)))}
        />
        <NumberField
          label="Key pictures every"
          value={encode.keyDistanceFrames}
          min={1}
          max={2000}
          unit="frames"
          onChange={key.onChange}
        />
      </SettingRow>
      <SettingRow setting="groups" label="Groups">
        <Rail
          label="Groups"
          hue="encode"
          value={encode.closedGroups ? 'closed' : 'open'}
          start={start.closedGroups ? 'closed' : 'open'}
          choices={[
            { value: 'closed', label: 'closed' },
            { value: 'open', label: 'open' },
          ]}
          {...groups}
        />
      </SettingRow>
      <SettingRow setting="bFrames" label="B-frames">
        <Rail
          label="B-frames"
          hue="encode"
          value={bChoices.find((b) => b === String(encode.bFrames)) ?? null}
          start={bChoices.find((b) => b === String(start.bFrames))}
          choices={bChoices
            .filter((b) => Number(b) <= Math.max(facts.mostBFrames, encode.bFrames))
            .map((b) => ({ value: b, label: b }))}
          {...bFrames}
        />
      </SettingRow>
      <SettingRow setting="lowDelay" label="Low delay">
        <Rail
          label="Low delay"
          hue="encode"
          value={encode.lowDelay ? 'on' : 'off'}
          start={start.lowDelay ? 'on' : 'off'}
          choices={onOff}
          {...lowDelay}
        />
      </SettingRow>
      <SettingRow setting="pixels" label="Colours">
        <Rail
          label="Colours"
          hue="encode"
          value={encode.pixels}
          start={start.pixels}
          choices={pixelKinds.map((p) => ({
            value: p,
            label: pixelWords[p],
            ...(facts.pixels.includes(p)
              ? {}
              : {
                  unreachable: `${encoderWords(encode.encoder)} takes ${listWords(facts.pixels.map((kind) => pixelWords[kind]))}`,
                }),
          }))}
          {...pixels}
        />
      </SettingRow>
      <SettingRow setting="range" label="Range">
        <Rail
          label="Colour range"
          hue="encode"
          value={encode.range}
          start={start.range}
          choices={[
            { value: 'limited', label: 'limited', hint: '16 to 235' },
            { value: 'full', label: 'full', hint: '0 to 255' },
          ]}
          {...range}
        />
      </SettingRow>
      <SettingRow setting="profile" label="Profile">
        <Rail
          label="Profile"
          hue="encode"
          value={encode.profile}
          start={start.profile}
          choices={(['high', 'main', 'baseline'] as const).map((p) => ({ value: p, label: profileWords[p] }))}
          {...profile}
        />
      </SettingRow>
      <SettingRow setting="threads" label="Threads">
        <Rail
          label="Threads"
          hue="encode"
          value={threadSteps.find((t) => t === String(encode.threads)) ?? null}
          start={threadSteps.find((t) => t === String(start.threads))}
          choices={threadSteps.map((t) => ({ value: t, label: t === '0' ? 'automatic' : t }))}
          {...threads}
        />
        <NumberField
          label="Threads, typed"
          value={encode.threads}
          min={0}
          max={64}
          onChange={(n) => change(set({ threads: n }))}
        />
      </SettingRow>
      <RareEncodeSettings set={set} />
    </>
  );
}
