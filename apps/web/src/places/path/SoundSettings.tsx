import { soundCodecWords } from '@mellow/core';
import { mostLanes, soundCodecs, soundSources, type Lane, type SoundSource } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { NumberField, TypedField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { usePath } from './pathContext';
import { SettingRow } from './SettingRow';

const sourceWords: Record<SoundSource, string> = { game: 'Game', voice: 'Voice', chat: 'Chat' };

export function SoundSettings() {
  const { recipe, change: changeRecipe } = usePath();
  const set = (lanes: Lane[]) => changeRecipe({ ...recipe, lanes });
  const change = (i: number, part: Partial<Lane>) =>
    set(recipe.lanes.map((lane, at) => (at === i ? { ...lane, ...part } : lane)));
  return (
    <>
      {recipe.lanes.length === 0 && <p className="soft">No lane: the file will be silent.</p>}
      {recipe.lanes.map((lane, i) => {
        const rated = lane.codec === 'aac' || lane.codec === 'opus';
        return (
          <div className="lane hue-sound" key={i}>
            <span className="lane-number">{i + 1}</span>
            <TypedField
              wide
              label={`Name of lane ${i + 1}`}
              text={lane.name}
              parse={(text) =>
                text.trim() && text.trim().length <= 40
                  ? { value: text.trim() }
                  : { problem: 'A name has 1 to 40 signs.' }
              }
              onChange={(name) => change(i, { name })}
            />
            <div className="tokens" role="group" aria-label={`Sources of lane ${i + 1}`}>
              {soundSources.map((source) => {
                const on = lane.sources.includes(source);
                return (
                  <button
                    key={source}
                    type="button"
                    className="token"
                    aria-pressed={on}
                    disabled={on && lane.sources.length === 1}
                    onClick={() =>
                      change(i, {
                        sources: on
                          ? lane.sources.filter((s) => s !== source)
                          : soundSources.filter((s) => s === source || lane.sources.includes(s)),
                      })
                    }
                  >
                    {sourceWords[source]}
                  </button>
                );
              })}
            </div>
            <Button
              quiet
              label={`Remove lane ${lane.name}`}
              onClick={() => set(recipe.lanes.filter((_, at) => at !== i))}
            >
              <Icon name="cross" />
            </Button>
            <div className="lane-second">
              <Rail
                label={`Codec of lane ${i + 1}`}
                hue="sound"
                value={lane.codec}
                choices={soundCodecs.map((c) => ({ value: c, label: soundCodecWords[c] }))}
                onChange={(codec) => change(i, { codec })}
              />
              {rated && (
                <NumberField
                  label={`Bitrate of lane ${i + 1}`}
                  value={lane.bitrateKbps}
                  min={32}
                  max={512}
                  unit="kb/s"
                  onChange={(bitrateKbps) => change(i, { bitrateKbps })}
                />
              )}
            </div>
          </div>
        );
      })}
      {recipe.lanes.length < mostLanes && (
        <Button
          quiet
          onClick={() =>
            set([
              ...recipe.lanes,
              { name: `Lane ${recipe.lanes.length + 1}`, sources: ['game'], codec: 'flac', bitrateKbps: 160 },
            ])
          }
        >
          <Icon name="plus" />A further lane
        </Button>
      )}
      <SettingRow
        setting="lanes"
        label="Lanes"
        note="48 kHz stereo. All three sources are the practice game’s stand-ins."
      >
        <span>Players play the first lane only; editors see all of them.</span>
      </SettingRow>
    </>
  );
}
