import { useState, type DragEvent, type ReactNode } from 'react';
import {
  formatKbps,
  formatLevel,
  keepOn,
  lanePurpose,
  laneZone,
  lanesBits,
  moveLane,
  moveTo,
  newLaneFor,
  soundCodecWords,
  soundName,
  takeOff,
  zoneWords,
} from '@mellow/core';
import { mostLanes, type Lane } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { NameEditor } from '../../parts/NameEditor';
import { ActionMenu, type MenuAction } from './ActionMenu';
import { Meter, MeterScale } from './Meter';
import { useSound } from './soundContext';
import { carriedBy, Token, type Carried } from './Token';

export interface Carrying {
  lifted: Carried | null;
  /** The stave a lifted token would be put on; as many as there are: a new one. */
  over: number | null;
  onLift: (carried: Carried | null) => void;
  onOver: (stave: number | null) => void;
  onKeyMove: (by: 1 | -1) => void;
  onDrop: () => void;
}

/** The score: each lane is a stave that runs into the file, a sound is a token on every stave that keeps it. */
export function Staves({ carrying }: { carrying: Carrying }) {
  const { recipe } = useSound();
  const { value } = lanesBits(recipe.lanes, recipe.sounds);
  return (
    <section className="kept" aria-label="Kept">
      <div className="row">
        <h2>Kept</h2>
        <span className="soft">each stave is a lane, one track of the file</span>
        <span className="push soft">
          <b className="n">{formatKbps(Math.round(value / 1000))}</b> in all
        </span>
      </div>
      <div className="score">
        {recipe.lanes.map((lane, i) => (
          <Stave key={i} lane={lane} at={i} carrying={carrying} />
        ))}
        {recipe.lanes.length > 0 && (
          <div className="stave-scale">
            <MeterScale />
          </div>
        )}
        <NewStave carrying={carrying} />
        {recipe.lanes.length > 0 && <i className="score-end" aria-hidden="true" />}
      </div>
      <p className="small soft">
        Keys: Enter lifts a token, up and down choose its stave, down past the last makes a new one, Enter puts it
        there. Its menu does the same.
      </p>
    </section>
  );
}

function DropPlace({
  at,
  carrying,
  className,
  children,
}: {
  at: number;
  carrying: Carrying;
  className: string;
  children: ReactNode;
}) {
  const { recipe, change } = useSound();
  const drop = (event: DragEvent) => {
    event.preventDefault();
    const carried = carriedBy(event.dataTransfer);
    carrying.onOver(null);
    if (carried) change(putDown(recipe, carried, at));
  };
  return (
    <div
      className={`${className}${carrying.over === at ? ' over-it' : ''}`}
      onDragOver={(event) => {
        event.preventDefault();
        if (carrying.over !== at) carrying.onOver(at);
      }}
      onDrop={drop}
    >
      {children}
    </div>
  );
}

/** Where a carried token is put: kept there too from what is heard, moved from another stave. */
export function putDown<T extends Parameters<typeof keepOn>[0]>(recipe: T, { source, from }: Carried, to: number) {
  if (from !== null) return moveTo(recipe, source, from, to);
  return to >= recipe.lanes.length ? newLaneFor(recipe, source) : keepOn(recipe, source, to);
}

function Stave({ lane, at, carrying }: { lane: Lane; at: number; carrying: Carrying }) {
  const { recipe, change, levels, lane: chosen, chooseLane } = useSound();
  const zone = laneZone(lane, recipe.lanes);
  const held = levels.heldLanePeak(at);
  const level = levels.now.lanes[at];
  const rated = lane.codec === 'aac' || lane.codec === 'opus';
  const zoneText = zoneWords(held, zone);
  return (
    <DropPlace at={at} carrying={carrying} className={`stave${chosen === at ? ' chosen' : ''}`}>
      <span className="stave-number n">{at + 1}</span>
      <div className="stave-head">
        <span className="clip">
          <NameEditor
            label={`Name of lane ${at + 1}`}
            name={lane.name}
            onChange={(name) =>
              change({ ...recipe, lanes: recipe.lanes.map((one, i) => (i === at ? { ...one, name } : one)) })
            }
          />{' '}
          <span className="soft stave-purpose">{lanePurpose(lane, at)}</span>
        </span>
        <span className="stave-figures">
          <span>
            <span className="soft">peak</span> <b className="n">{formatLevel(held)}</b>{' '}
            <span className="soft">dBFS</span>
          </span>
          <span className="stave-lufs">
            <span className="n">{formatLevel(level?.loudnessLufs)}</span> <span className="soft">LUFS</span>
          </span>
          <span className={zoneText === 'in its zone' || held === null ? 'soft' : 'stave-off'}>{zoneText}</span>
        </span>
        <LaneMenu lane={lane} at={at}>
          <button
            type="button"
            className="stave-codec"
            aria-pressed={chosen === at}
            aria-label={`Lane ${at + 1}, ${lane.name}: ${soundCodecWords[lane.codec]}. Its settings`}
            onClick={() => chooseLane(at)}
          >
            {soundCodecWords[lane.codec]}
            {rated && (
              <>
                , <span className="n">{lane.bitrateKbps}</span> kb/s
              </>
            )}
          </button>
        </LaneMenu>
      </div>
      <div className="stave-lines">
        <div className="stave-tokens" role="group" aria-label={`Sounds on lane ${at + 1}`}>
          {lane.sources.map((source) => (
            <Token
              key={source}
              source={source}
              name={soundName(recipe.sounds, source)}
              from={at}
              lifted={carrying.lifted?.source === source && carrying.lifted.from === at}
              actions={tokenActions(at, source)}
              onLift={carrying.onLift}
              onKeyMove={carrying.onKeyMove}
              onDrop={carrying.onDrop}
            />
          ))}
        </div>
        <Meter label={`Lane ${at + 1}, ${lane.name}`} now={level?.peakDbfs ?? null} held={held} zone={zone} />
      </div>
    </DropPlace>
  );

  function tokenActions(from: number, source: Lane['sources'][number]): MenuAction[] {
    return [
      ...recipe.lanes.flatMap((other, i) =>
        i === from || other.sources.includes(source)
          ? []
          : [{ label: `Keep on lane ${i + 1} too, ${other.name}`, act: () => change(keepOn(recipe, source, i)) }],
      ),
      ...(recipe.lanes.length < mostLanes
        ? [{ label: 'Give it a lane of its own too', act: () => change(newLaneFor(recipe, source)) }]
        : []),
      {
        label: lane.sources.length > 1 ? 'Take it off this lane' : 'Take it off, and the lane with it',
        act: () => change(takeOff(recipe, source, from)),
      },
    ];
  }
}

function LaneMenu({ lane, at, children }: { lane: Lane; at: number; children: ReactNode }) {
  const { recipe, change } = useSound();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const last = recipe.lanes.length - 1;
  const entries = [
    ...(at > 0 ? [{ label: 'Put it first', act: () => change(moveLane(recipe, at, 0)) }] : []),
    ...(at > 0 ? [{ label: 'One up', act: () => change(moveLane(recipe, at, at - 1)) }] : []),
    ...(at < last ? [{ label: 'One down', act: () => change(moveLane(recipe, at, at + 1)) }] : []),
    {
      label: `Remove lane ${at + 1}, ${lane.name}`,
      act: () => change({ ...recipe, lanes: recipe.lanes.filter((_, i) => i !== at) }),
    },
  ];
  return (
    <span className="stave-menu">
      {children}
      <button
        type="button"
        className="stave-more"
        aria-haspopup="menu"
        aria-label={`More of lane ${at + 1}`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <Icon name="dots" />
      </button>
      <ActionMenu anchor={anchor} label={`Lane ${at + 1}`} actions={entries} onClose={() => setAnchor(null)} />
    </span>
  );
}

/** Below the last stave: what is let go here gets a lane of its own. */
function NewStave({ carrying }: { carrying: Carrying }) {
  const { recipe } = useSound();
  const at = recipe.lanes.length;
  if (at >= mostLanes) return <p className="small soft">{mostLanes} lanes are the most that readers take.</p>;
  const { lifted } = carrying;
  const isOver = carrying.over === at && lifted;
  const next = lifted ? putDown(recipe, lifted, at) : null;
  const more = next ? lanesBits(next.lanes, next.sounds).value - lanesBits(recipe.lanes, recipe.sounds).value : 0;
  return (
    <DropPlace at={at} carrying={carrying} className="stave new-stave">
      <span className="stave-number n">{at + 1}</span>
      <div className="stave-lines">
        <p className="new-stave-words">
          {isOver ? (
            <>
              <b>Let go: {soundName(recipe.sounds, lifted.source)} gets a lane of its own.</b>{' '}
              <span className="soft">+{formatKbps(Math.round(more / 1000))}, no play cost to speak of</span>
            </>
          ) : (
            <span className="soft">
              {at === 0
                ? 'No lane yet: the file will be silent. Bring a sound here.'
                : 'A sound brought here gets a lane of its own.'}
            </span>
          )}
        </p>
      </div>
    </DropPlace>
  );
}
