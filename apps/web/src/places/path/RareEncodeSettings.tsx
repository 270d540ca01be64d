import { cardWords, encoderFacts, eyeTuningWords, lookAheadWords, matrixWords, priorityWords } from '@mellow/core';
import { eyeTunings, matrices, priorities, type EyeTuning, type Matrix, type Priority } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import type { SetProps } from './EncodeSettings';
import { usePath } from './pathContext';
import { SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

export const onOff = [
  { value: 'on', label: 'on' },
  { value: 'off', label: 'off' },
] as const;
const own = 'own';
const aheadSteps = [own, '0', '10', '20', '40'] as const;
const cards = [own, '0', '1', '2', '3'] as const;

const numberOf = (step: string): number | null => (step === own ? null : Number(step));
const stepOf = <T extends string>(steps: readonly T[], value: number | null): T | null =>
  steps.find((step) => numberOf(step) === value) ?? null;

/** What hardly anybody has to touch: most encoders know best. */
export function RareEncodeSettings({ set }: SetProps) {
  const { recipe, setup, change } = usePath();
  const { encode } = recipe;
  const start = setup.start.encode;
  const { mostLookAhead } = encoderFacts[encode.encoder];
  const matrix = useConsidering('matrix', (value: Matrix) => set({ matrix: value }));
  const ahead = useConsidering('lookAhead', (step: string) => set({ lookAheadFrames: numberOf(step) }));
  const eye = useConsidering('eyeTuning', (value: EyeTuning) => set({ eyeTuning: value }));
  const easy = useConsidering('easyDecode', (value: 'on' | 'off') => set({ easyDecode: value === 'on' }));
  const card = useConsidering('card', (step: string) => set({ card: numberOf(step) }));
  const priority = useConsidering('priority', (value: Priority) => ({ ...recipe, priority: value }));
  return (
    <>
      <SettingRow setting="matrix" label="Matrix">
        <Rail
          label="Colour matrix"
          hue="encode"
          value={encode.matrix}
          start={start.matrix}
          choices={matrices.map((value) => ({ value, label: matrixWords[value] }))}
          {...matrix}
        />
      </SettingRow>
      <SettingRow setting="lookAhead" label="Look-ahead">
        <Rail
          label="Look-ahead"
          hue="encode"
          value={stepOf(aheadSteps, encode.lookAheadFrames)}
          start={stepOf(aheadSteps, start.lookAheadFrames) ?? undefined}
          choices={aheadSteps
            .filter((step) => (numberOf(step) ?? 0) <= mostLookAhead)
            .map((value) => ({ value, label: value === own ? lookAheadWords(null) : value }))}
          {...ahead}
        />
        {mostLookAhead > 0 && (
          <NumberField
            label="Look-ahead, typed"
            value={encode.lookAheadFrames ?? 0}
            min={0}
            max={mostLookAhead}
            unit="pictures"
            onChange={(lookAheadFrames) => change(set({ lookAheadFrames }))}
          />
        )}
      </SettingRow>
      <SettingRow setting="eyeTuning" label="For the eye">
        <Rail
          label="Tuned for the eye"
          hue="encode"
          value={encode.eyeTuning}
          start={start.eyeTuning}
          choices={eyeTunings.map((value) => ({ value, label: eyeTuningWords[value] }))}
          {...eye}
        />
      </SettingRow>
      <SettingRow setting="easyDecode" label="Easy to decode">
        <Rail
          label="Easy to decode"
          hue="encode"
          value={encode.easyDecode ? 'on' : 'off'}
          start={start.easyDecode ? 'on' : 'off'}
          choices={onOff}
          {...easy}
        />
      </SettingRow>
      <SettingRow setting="card" label="Card">
        <Rail
          label="Which card encodes"
          hue="encode"
          value={stepOf(cards, encode.card)}
          start={stepOf(cards, start.card) ?? undefined}
          choices={cards.map((value) => ({ value, label: cardWords(numberOf(value)).replace('card ', '') }))}
          {...card}
        />
      </SettingRow>
      <SettingRow setting="priority" label="Priority">
        <Rail
          label="Priority of the encoder"
          hue="encode"
          value={recipe.priority}
          start={setup.start.priority}
          choices={priorities.map((value) => ({ value, label: priorityWords[value] }))}
          {...priority}
        />
      </SettingRow>
    </>
  );
}
