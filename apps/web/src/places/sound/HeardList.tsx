import { keepOn, newLaneFor, withoutSound } from '@mellow/core';
import { mostLanes, mostSounds, type SoundInput, type SoundLevel } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { NameEditor } from '../../parts/NameEditor';
import { NumberField } from '../../parts/NumberField';
import { NumberRail } from '../../parts/NumberRail';
import { AddSound, SourceMenu } from './AddSound';
import { Meter, MeterScale } from './Meter';
import { useSound } from './soundContext';
import type { MenuAction } from './ActionMenu';
import { Token, type Carried } from './Token';

/** Each sound before it is kept: where it comes from, its level, whether it is alive. */
export function HeardList({
  lifted,
  onLift,
  onKeyMove,
  onDrop,
}: {
  lifted: Carried | null;
  onLift: (carried: Carried | null) => void;
  onKeyMove: (by: 1 | -1) => void;
  onDrop: () => void;
}) {
  const { recipe } = useSound();
  return (
    <section className="heard" aria-label="Heard">
      <div className="row">
        <h2>Heard</h2>
        <span className="soft">each sound, before it is kept</span>
      </div>
      {recipe.sounds.length === 0 && <p className="soft">Nothing is heard: the file will be silent.</p>}
      {recipe.sounds.map((sound) => (
        <HeardSound
          key={sound.id}
          sound={sound}
          lifted={lifted?.source === sound.id && lifted.from === null}
          onLift={onLift}
          onKeyMove={onKeyMove}
          onDrop={onDrop}
        />
      ))}
      {recipe.sounds.length > 0 && (
        <div className="heard-scale">
          <MeterScale />
        </div>
      )}
      {recipe.sounds.length < mostSounds ? (
        <AddSound />
      ) : (
        <p className="small soft">{mostSounds} sounds are heard at once, which is the most.</p>
      )}
    </section>
  );
}

function HeardSound({
  sound,
  lifted,
  ...carrying
}: {
  sound: SoundInput;
  lifted: boolean;
  onLift: (carried: Carried | null) => void;
  onKeyMove: (by: 1 | -1) => void;
  onDrop: () => void;
}) {
  const { recipe, change, changeSound, levels } = useSound();
  const level = levels.now.sounds.find(({ id }) => id === sound.id);
  const kept = recipe.lanes.filter(({ sources }) => sources.includes(sound.id)).length;
  const actions: MenuAction[] = [
    ...recipe.lanes.flatMap((lane, i) =>
      lane.sources.includes(sound.id)
        ? []
        : [{ label: `Keep on lane ${i + 1}, ${lane.name}`, act: () => change(keepOn(recipe, sound.id, i)) }],
    ),
    ...(recipe.lanes.length < mostLanes
      ? [{ label: 'Give it a lane of its own', act: () => change(newLaneFor(recipe, sound.id)) }]
      : []),
    { label: 'Remove it', act: () => change(withoutSound(recipe, sound.id)) },
  ];
  return (
    <div className="heard-sound">
      <div className="heard-line">
        <Token
          source={sound.id}
          name={sound.name}
          from={null}
          lifted={lifted}
          faint={kept === 0}
          actions={actions}
          {...carrying}
        />
        <div className="heard-gain">
          <NumberRail
            bare
            label={`Level of ${sound.name} on the rail`}
            hue="sound"
            value={Math.max(-36, Math.min(12, sound.gainDb))}
            min={-36}
            max={12}
            step={1}
            unit="dB"
            marks={[]}
            onChange={(gainDb) => changeSound(sound.id, { gainDb })}
          />
        </div>
        <NumberField
          label={`Level of ${sound.name}`}
          value={sound.gainDb}
          min={-60}
          max={24}
          step={0.5}
          unit="dB"
          onChange={(gainDb) => changeSound(sound.id, { gainDb })}
        />
      </div>
      <div className="heard-line">
        <Meter
          label={sound.name}
          now={level?.rmsDbfs ?? level?.peakDbfs ?? null}
          held={levels.heldPeak(sound.id)}
          faint={kept === 0}
        />
        <button
          type="button"
          className="heard-mute"
          aria-pressed={sound.muted}
          aria-label={`${sound.muted ? 'Open' : 'Mute'} ${sound.name}`}
          onClick={() => changeSound(sound.id, { muted: !sound.muted })}
        >
          <Icon name={sound.muted ? 'muted' : 'speaker'} />
          {sound.muted ? 'muted' : 'mute'}
        </button>
      </div>
      <p className="small soft heard-words">
        <span>
          <SourceMenu sound={sound} />
          {', '}
          <span className={level?.state === 'away' && !sound.muted ? 'over' : undefined}>
            {stateWords(sound, level)}
          </span>
          {kept === 0 && ', kept nowhere'}
        </span>
        <span className="push">
          <NameEditor
            label={`Name of ${sound.name}`}
            name={sound.name}
            word="rename"
            onChange={(name) => changeSound(sound.id, { name })}
          />
        </span>
      </p>
    </div>
  );
}

function stateWords(sound: SoundInput, level: SoundLevel | undefined): string {
  if (sound.muted) return 'muted here';
  if (sound.opening === 'closed') return 'closed';
  if (!level) return 'not heard yet';
  if (level.state === 'opening') return 'being opened';
  if (level.state === 'away') return level.why ?? 'not there';
  if (level.state === 'silent') return 'there, silent for 10 s';
  return 'alive now';
}
