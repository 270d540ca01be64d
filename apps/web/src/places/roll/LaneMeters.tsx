import { useCallback, useEffect, useState } from 'react';
import { formatLevel, laneSoundNames, laneZone, listWords, voiceAboveGame, zoneWords } from '@mellow/core';
import type { LiveTake, Recipe, SoundInput } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { useHoldSoundMutation } from '../../store/api';
import { isTyping } from '../shell/useKeys';
import { Meter } from '../sound/Meter';
import '../sound/Sound.css';

/** What lanes and sounds come to now: of a take, or before one. */
export type LanesNow = Pick<LiveTake, 'sounds' | 'lanePeakDbfs' | 'laneLufs' | 'state'>;

interface LaneMetersProps {
  take: LanesNow;
  recipe: Recipe;
  title?: string;
}

/** The lanes before and while a take rolls: levels against their zones, what is not heard, and the voice against the game. */
export function LaneMeters({ take, recipe, title = 'Sound lanes' }: LaneMetersProps) {
  const { lanes, sounds } = recipe;
  const peakOf = (id: SoundInput['id']): number | null =>
    take.sounds.find((sound) => sound.id === id)?.peakDbfs ?? null;
  const above = voiceAboveGame(recipe, peakOf);
  const kept = sounds.filter(({ id }) => lanes.some(({ sources }) => sources.includes(id)));
  const away = kept.flatMap(({ id, name, muted }) => {
    const level = take.sounds.find((sound) => sound.id === id);
    return level?.state === 'away' && !muted ? [name] : [];
  });
  return (
    <>
      <h2>{title}</h2>
      {lanes.length === 0 && <p className="soft">No lane: the file will be silent.</p>}
      {lanes.map((lane, i) => {
        const peak = take.lanePeakDbfs[i] ?? null;
        const known = take.lanePeakDbfs.length > i;
        const lufs = take.laneLufs[i] ?? null;
        const zone = laneZone(lane, lanes);
        return (
          <div className="lane-meter" key={i}>
            <span className="lane-number">{i + 1}</span>
            <span className="clip">
              <b>{lane.name}</b>
              <span className="small soft">
                <br />
                {listWords(laneSoundNames(recipe, lane))}
              </span>
            </span>
            <Meter label={`Lane ${i + 1}, ${lane.name}`} now={peak} held={peak} zone={zone} />
            <span>
              <span className="n">{!known ? '' : peak === null ? 'silent' : formatLevel(peak)}</span>{' '}
              <span className="small soft">{known && peak !== null ? 'dBFS' : ''}</span>
              <span className="small soft">
                <br />
                {[
                  ...(known && peak !== null ? [zoneWords(peak, zone)] : []),
                  ...(lufs === null ? [] : [`${formatLevel(lufs)} LUFS`]),
                ].join(', ')}
              </span>
            </span>
          </div>
        );
      })}
      {away.length > 0 && (
        <p className="over" role="alert">
          <b>
            {listWords(away)} {away.length === 1 ? 'is' : 'are'} not heard.
          </b>{' '}
          Its lanes go on in silence until it is back.
        </p>
      )}
      {above !== null && (
        <p className="small soft">
          The voice is {Math.abs(above).toFixed(1)} dB {above >= 0 ? 'above' : 'below'} the game, by the peaks of the
          last moment.
        </p>
      )}
      {kept
        .filter(({ opening, muted }) => opening === 'held' && !muted)
        .map((sound) => (
          <HoldToTalk key={sound.id} sound={sound} ready={take.state === 'rolling'} />
        ))}
    </>
  );
}

const talkKey = 'v';

/** Opens a microphone while the key or the button is held. */
function HoldToTalk({ sound, ready }: { sound: SoundInput; ready: boolean }) {
  const [hold] = useHoldSoundMutation();
  const [open, setOpen] = useState(false);
  const turn = useCallback(
    (next: boolean) => {
      setOpen(next);
      void hold({ sound: sound.id, open: next });
    },
    [hold, sound.id],
  );
  useEffect(() => {
    if (!ready) return;
    const isKey = (event: KeyboardEvent) => event.key.toLowerCase() === talkKey && !event.ctrlKey && !event.metaKey;
    const down = (event: KeyboardEvent) =>
      void (isKey(event) && !event.repeat && !isTyping(event.target) && turn(true));
    const up = (event: KeyboardEvent) => void (isKey(event) && turn(false));
    const leave = () => turn(false);
    document.addEventListener('keydown', down);
    document.addEventListener('keyup', up);
    window.addEventListener('blur', leave);
    return () => {
      document.removeEventListener('keydown', down);
      document.removeEventListener('keyup', up);
      window.removeEventListener('blur', leave);
    };
  }, [ready, turn]);
  return (
    <p className="row hold-to-talk" onPointerUp={() => open && turn(false)} onPointerLeave={() => open && turn(false)}>
      <span onPointerDown={() => ready && turn(true)}>
        <Button quiet pressed={open} disabled={!ready} label={`${sound.name}, open while held`}>
          <Icon name={open ? 'microphone' : 'muted'} />
          {sound.name}: {open ? 'open' : 'hold to talk'} <kbd>V</kbd>
        </Button>
      </span>
      <span className="small soft">while this page has the keyboard</span>
    </p>
  );
}
