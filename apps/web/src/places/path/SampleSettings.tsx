import { useState } from 'react';
import { capitalised, formatRate, formatSeconds, formatSize, plural, takeName } from '@mellow/core';
import type { ChosenSample, SampleSource } from '@mellow/model';
import { Button } from '../../parts/Button';
import { TypedField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { WordMenu } from '../../parts/WordMenu';
import { useChooseSampleMutation } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { useTrial } from '../trials/useTrial';
import { usePath } from './pathContext';
import { PlainRow } from './SettingRow';

/** Length of a sample made here: long enough for a menu and a fight, short enough for any drive. */
const sampleS = 10;
const another = 'another';

const pathTyped = (text: string): { value: string } | { problem: string } =>
  text.trim() ? { value: text.trim() } : { problem: 'Write the complete path of a file.' };

/** What trials play: the source as it is then, or a sample of it, by which they differ in nothing but their recipe. */
export function SampleSettings() {
  const { setup, samples } = usePath();
  const [choose, { isLoading: reading }] = useChooseSampleMutation();
  const [typing, setTyping] = useState(false);
  const idle = useAppSelector((state) => (state.live.state?.recorder ?? 'idle') === 'idle');
  const simulated = setup.machineId !== 'this';
  const { make } = useTrial(setup, 'sample');
  const set = (chosen: ChosenSample) => void choose({ setupId: setup.id, chosen });
  const newest = samples[0];
  const { sample } = setup;
  const none = simulated ? 'A simulated machine plays the practice game.' : undefined;
  const busy = reading ? 'A file is being read.' : idle ? undefined : 'A take is being made.';
  const unreachable =
    none ?? busy ?? (sample || newest ? undefined : 'There is none yet: make one, or bring a file in.');
  return (
    <PlainRow label="Trials play" under={<Told sample={sample} />}>
      <Rail
        label="What trials play"
        hue="capture"
        value={sample ? 'sample' : 'live'}
        choices={[
          { value: 'live', label: 'the source itself' },
          { value: 'sample', label: 'a sample', ...(unreachable && !sample ? { unreachable } : {}) },
        ]}
        onChange={(value) => {
          if (value === 'live') set({ from: 'live' });
          else if (newest) set({ from: 'take', takeId: newest.id });
        }}
      />
      {sample && samples.length > 0 && (
        <WordMenu
          label="Sample"
          word={sample.name}
          value={samples.find(({ filePath }) => filePath === sample.path)?.id ?? another}
          choices={samples.map((take) => ({
            value: take.id,
            label: `${take.game.title}, ${takeName(take)}, ${formatSize(take.recipe.size.widthPx, take.recipe.size.heightPx)}`,
          }))}
          onChange={(takeId) => set({ from: 'take', takeId })}
        />
      )}
      <Button quiet disabled={!idle || simulated} onClick={() => void make(sampleS)}>
        Make a sample of {sampleS} s
      </Button>
      <Button quiet disabled={!idle || simulated || reading} onClick={() => setTyping(!typing)}>
        {reading ? 'Reading …' : 'Bring a file in'}
      </Button>
      {typing && (
        <TypedField
          wide
          label="Path of a media file on this PC"
          text=""
          parse={pathTyped}
          onChange={(path) => {
            setTyping(false);
            set({ from: 'file', path });
          }}
        />
      )}
    </PlainRow>
  );
}

function Told({ sample }: { sample: SampleSource | null }) {
  if (!sample)
    return (
      <p className="small soft">
        A sample is a short recording without loss and without sound. Trials that play one differ in their recipe only.
      </p>
    );
  const { name, widthPx, heightPx, rate, frames, lengthUs } = sample;
  const short = Math.round((lengthUs * rate.num) / (rate.den * 1e6)) - frames;
  return (
    <p className="small soft">
      {capitalised(name)}: {plural(frames, 'picture')} of {formatSize(widthPx, heightPx)} at {formatRate(rate)},{' '}
      {formatSeconds(lengthUs / 1e6)};{' '}
      {short > 0 && `${plural(short, 'picture')} were lost while it was made, so that its motion is uneven; `}a longer
      trial begins it again. Decoding it takes processor in the game’s place, and nobody plays: such a trial says
      nothing of the play cost.
    </p>
  );
}
