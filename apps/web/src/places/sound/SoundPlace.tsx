import { useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { changeSound, clashStations, recipeClashes, errorText } from '@mellow/core';
import type { Recipe, SoundDevices } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Message } from '../../parts/Message';
import { useSetDraftMutation, useSoundsQuery, useUndoDraftMutation } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { QueryGate } from '../shell/QueryGate';
import { useSetup } from '../shell/SetupFrame';
import { useKeys } from '../shell/useKeys';
import { FormatsPanel } from './FormatsPanel';
import { HeardList } from './HeardList';
import { LanePanel } from './LanePanel';
import { MicrophonePanel } from './MicrophonePanel';
import { putDown, Staves, type Carrying } from './Staves';
import { SoundContext, type SoundState } from './soundContext';
import type { Carried } from './Token';
import { useLevels } from './useLevels';
import './Sound.css';

/** Devices come and go: they are asked for again so often. */
const devicesEveryMs = 4000;

/** Sound: what is heard, on which lanes it is kept, and how loud each is. */
export function SoundPlace() {
  const devices = useSoundsQuery(undefined, { pollingInterval: devicesEveryMs });
  const { setup } = useSetup();
  return (
    <QueryGate queries={[devices]} what="Asking for sound devices">
      {() => (devices.data ? <Sound key={setup.id} devices={devices.data} /> : null)}
    </QueryGate>
  );
}

function Sound({ devices }: { devices: SoundDevices }) {
  const { setup, tools } = useSetup();
  const recipe = setup.draft;
  // A take has the devices to itself, and nothing is to disturb what it measures.
  const busy = useAppSelector((store) => (store.live.state?.recorder ?? 'idle') !== 'idle');
  const live = useAppSelector((store) => store.live.state?.take ?? null);
  const rolling = live && live.setupId === setup.id && live.state === 'rolling' ? live : null;
  const { levels, trouble } = useLevels(
    { who: setup.id, sounds: recipe.sounds, lanes: recipe.lanes.map(({ sources }) => sources) },
    rolling,
    busy,
  );
  const [setDraft] = useSetDraftMutation();
  const [undoDraft] = useUndoDraftMutation();
  const [lane, chooseLane] = useState(0);
  const change = (next: Recipe) => {
    if (next !== recipe) void setDraft({ id: setup.id, recipe: next });
  };
  const carrying = useCarrying(recipe, change);
  useKeys({ u: () => void (setup.undoDepth > 0 && undoDraft(setup.id)) });
  const state: SoundState = {
    setup,
    recipe,
    devices,
    levels,
    trouble,
    lane,
    chooseLane,
    change,
    changeSound: (id, part) => change(changeSound(recipe, id, part)),
  };
  const clash = recipeClashes(recipe).find(({ id }) => clashStations[id] === 'sound');
  return (
    <SoundContext value={state}>
      {tools &&
        createPortal(
          <>
            <Button quiet disabled={setup.undoDepth === 0} onClick={() => void undoDraft(setup.id)}>
              <Icon name="undo" />
              Undo
            </Button>
            <LastTenSeconds who={setup.id} lane={Math.min(lane, recipe.lanes.length - 1)} />
          </>,
          tools,
        )}
      <h1 className="sound-sentence">{sentenceOf(state)}</h1>
      {clash && (
        <Message
          tone="loss"
          title={clash.title}
          actions={<Button onClick={() => change(clash.remedy.recipe)}>{clash.remedy.label}</Button>}
        >
          {clash.text}
        </Message>
      )}
      {busy && !rolling && (
        <Message tone="note" title="A take is being made">
          Nothing is listened to meanwhile, so that it is not disturbed; levels are on Roll.
        </Message>
      )}
      {trouble && (
        <Message tone="loss" title="No level can be shown">
          {trouble}
        </Message>
      )}
      <section className="sheet sound-sheet" aria-label="Heard and kept">
        <HeardList
          lifted={carrying.lifted}
          onLift={carrying.onLift}
          onKeyMove={carrying.onKeyMove}
          onDrop={carrying.onDrop}
        />
        <Staves carrying={carrying} />
      </section>
      <div className="sound-below">
        <MicrophonePanel />
        <LanePanel />
        <FormatsPanel />
      </div>
      <span className="visually-hidden" role="status">
        {carrying.lifted && carrying.over !== null
          ? carrying.over >= recipe.lanes.length
            ? 'a new lane'
            : `lane ${carrying.over + 1}, ${recipe.lanes[carrying.over]?.name ?? ''}`
          : ''}
      </span>
    </SoundContext>
  );
}

/** A token on its way, by pointer or by keys. */
function useCarrying(recipe: Recipe, change: (recipe: Recipe) => void): Carrying {
  const [lifted, setLifted] = useState<Carried | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const end = () => {
    setLifted(null);
    setOver(null);
  };
  return {
    lifted,
    over,
    onLift(carried) {
      setLifted(carried);
      setOver(carried ? carried.from : null);
    },
    onOver: setOver,
    onKeyMove(by) {
      setOver((now) => {
        const next = now === null ? (by > 0 ? 0 : recipe.lanes.length) : now + by;
        return Math.max(0, Math.min(recipe.lanes.length, next));
      });
    },
    onDrop() {
      if (lifted && over !== null && over !== lifted.from) change(putDown(recipe, lifted, over));
      end();
    },
  };
}

/** How things stand: which sounds are alive, and what is kept of them. */
function sentenceOf({ recipe, levels }: SoundState): string {
  const lanes = recipe.lanes.length;
  const kept = new Set(recipe.lanes.flatMap(({ sources }) => sources));
  const wanted = recipe.sounds.filter(({ id, muted }) => kept.has(id) && !muted);
  const away = wanted.filter(({ id }) => levels.now.sounds.find((sound) => sound.id === id)?.state === 'away');
  if (lanes === 0) return 'No lane: the file will be silent.';
  const file = `${lanes === 1 ? 'One lane goes' : `${lanes} lanes go`} into the file`;
  if (away.length)
    return `${file}; ${away.map(({ name }) => name).join(' and ')} ${away.length === 1 ? 'is' : 'are'} not heard.`;
  if (levels.now.sounds.length === 0) return `${file}.`;
  return `${file}, and every sound on ${lanes === 1 ? 'it' : 'them'} is alive.`;
}

/** Plays what was just heard, as a lane would keep it. */
function LastTenSeconds({ who, lane }: { who: string; lane: number }) {
  const player = useRef<HTMLAudioElement | null>(null);
  const [playing, setPlaying] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const play = async () => {
    setProblem(null);
    if (playing) {
      player.current?.pause();
      return setPlaying(false);
    }
    try {
      const answer = await fetch('/api/sounds/last', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ who, lane }),
      });
      if (!answer.ok) throw new Error(((await answer.json()) as { detail?: string }).detail ?? 'It cannot be heard.');
      const url = URL.createObjectURL(await answer.blob());
      const audio = new Audio(url);
      player.current = audio;
      audio.onended = () => {
        URL.revokeObjectURL(url);
        setPlaying(false);
      };
      await audio.play();
      setPlaying(true);
    } catch (error) {
      setPlaying(false);
      setProblem(errorText(error));
    }
  };
  return (
    <>
      {problem && (
        <span className="over small" role="alert">
          {problem}
        </span>
      )}
      <Button main disabled={lane < 0} onClick={() => void play()}>
        {playing ? 'Stop' : `Hear the last 10 s of lane ${lane + 1}`}
      </Button>
    </>
  );
}
