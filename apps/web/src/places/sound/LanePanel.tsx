import { bringsEverything, containerTakesSound, listWords, soundCodecWords } from '@mellow/core';
import { soundCodecs, type Lane } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { useSound } from './soundContext';

const rates = [128, 192, 256, 320];

const waitingLanes = (lanes: number): string =>
  lanes === 2 ? 'lane 2 waits' : lanes === 3 ? 'lanes 2 and 3 wait' : `lanes 2 to ${lanes} wait`;

/** The chosen lane: its codec and rate, and what a player and an editor make of it. */
export function LanePanel() {
  const { recipe, setup, devices, lane: at, change } = useSound();
  const lane = recipe.lanes[at] ?? recipe.lanes[0];
  const shown = lane ? recipe.lanes.indexOf(lane) : -1;
  const everything = recipe.sounds.filter((sound) => bringsEverything(sound, devices));
  if (!lane)
    return (
      <section aria-label="Lane">
        <h2>No lane</h2>
        <p className="soft">Bring a sound below the last stave, and it gets a lane.</p>
      </section>
    );
  const start = setup.start.lanes[shown];
  const rated = lane.codec === 'aac' || lane.codec === 'opus';
  const set = (part: Partial<Lane>) =>
    change({ ...recipe, lanes: recipe.lanes.map((one, i) => (i === shown ? { ...one, ...part } : one)) });
  return (
    <section aria-label="Lane">
      <h2>
        Lane {shown + 1}, {lane.name}
      </h2>
      <div className="lane-row">
        <span className="soft">Codec</span>
        <Rail
          label="Codec"
          hue="sound"
          value={lane.codec}
          start={start?.codec}
          choices={soundCodecs.map((value) => ({
            value,
            label: soundCodecWords[value],
            ...(containerTakesSound(recipe.container, value)
              ? {}
              : { unreachable: 'few readers take it from this file type' }),
          }))}
          onChange={(codec) => set({ codec })}
        />
      </div>
      <div className="lane-row">
        <span className="soft">Rate</span>
        {rated ? (
          <>
            <Rail
              label="Rate"
              hue="sound"
              value={rates.includes(lane.bitrateKbps) ? String(lane.bitrateKbps) : null}
              start={start && start.codec === lane.codec ? String(start.bitrateKbps) : undefined}
              choices={rates.map((kbps) => ({ value: String(kbps), label: String(kbps) }))}
              onChange={(kbps) => set({ bitrateKbps: Number(kbps) })}
            />
            <NumberField
              label="Rate in kb/s"
              value={lane.bitrateKbps}
              min={32}
              max={512}
              unit="kb/s"
              onChange={(bitrateKbps) => set({ bitrateKbps })}
            />
          </>
        ) : (
          <span>
            {lane.codec === 'pcm' ? '1 536 kb/s, every sample as it is' : 'follows the sound, every sample as it is'}
          </span>
        )}
      </div>
      <div className="lane-row">
        <span className="soft">Form</span>
        <span>48 kHz, stereo</span>
      </div>
      <p className="panel-note">
        <b>Players play the first lane only.</b>{' '}
        <span className="soft">
          {recipe.lanes.length > 1
            ? `So lane 1 carries what a player is to play, and ${waitingLanes(recipe.lanes.length)} for the editor. A voice that a player leaves out is no fault there.`
            : 'One lane is what every player plays; an editor cannot take it apart again.'}
        </span>
      </p>
      <p>
        {everything.length ? (
          <>
            <b>
              {listWords(everything.map(({ name }) => name))} {everything.length === 1 ? 'brings' : 'bring'} everything
              that is played there:
            </b>{' '}
            <span className="soft">messages, music and films too. Close them, or send them to another output.</span>
          </>
        ) : (
          <span className="soft">Nothing else that this PC plays is taken along.</span>
        )}
      </p>
    </section>
  );
}
