import { laneSoundNames, laneWords, listWords } from '@mellow/core';
import { Button } from '../../parts/Button';
import { usePath } from './pathContext';
import { SettingRow } from './SettingRow';

/** The lanes in short; what is heard and where it is kept has a place of its own. */
export function SoundSettings() {
  const { recipe } = usePath();
  return (
    <>
      {recipe.lanes.length === 0 && <p className="soft">No lane: the file will be silent.</p>}
      <ol className="lane-list hue-sound">
        {recipe.lanes.map((lane, i) => (
          <li key={i}>
            <span className="lane-number">{i + 1}</span>
            <b>{laneWords(lane)}</b>
            <span className="soft">{listWords(laneSoundNames(recipe, lane))}</span>
          </li>
        ))}
      </ol>
      <SettingRow
        setting="lanes"
        label="Lanes"
        note="48 kHz stereo. Players play the first lane only; editors see all of them."
      >
        <Button to="../sound">Sounds, lanes and levels</Button>
      </SettingRow>
    </>
  );
}
