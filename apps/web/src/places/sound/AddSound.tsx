import { useState } from 'react';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import ListSubheader from '@mui/material/ListSubheader';
import { addSoundOf, fromWords, keepOn } from '@mellow/core';
import {
  heardDevice,
  isGrabbed,
  microphoneDevice,
  type SoundFrom,
  type SoundInput,
  type SoundRole,
} from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { useSound } from './soundContext';

interface Choice {
  label: string;
  role: SoundRole;
  from: SoundFrom;
  /** The name a new sound of it gets. */
  name: string;
}

/** Everything that can be heard here, by where it comes from. */
function useChoices(): { title: string; choices: Choice[] }[] {
  const { devices, recipe, setup } = useSound();
  const device = (name: string, words: string): SoundFrom => ({ kind: 'device', device: name, words });
  const microphones = devices.devices.filter(({ kind }) => kind === 'microphone');
  const outputs = devices.devices.filter(({ kind }) => kind === 'output');
  const real = setup.machineId === 'this';
  const listed = real && devices.trouble === null && devices.by !== 'none';
  const groups: { title: string; choices: Choice[] }[] = [
    {
      title: 'Microphones',
      choices: listed
        ? [
            { label: 'The microphone in use', role: 'voice', from: device(microphoneDevice, ''), name: 'Microphone' },
            ...microphones.map(({ device: id, words }): Choice => ({
              label: words,
              role: 'voice',
              from: device(id, words),
              name: words,
            })),
          ]
        : [],
    },
    {
      title: 'What is heard',
      choices:
        listed && devices.by === 'pulse'
          ? [
              { label: 'What this PC plays', role: 'game', from: device(heardDevice, ''), name: 'Game' },
              ...outputs.map(({ device: id, words }): Choice => ({
                label: `What ${words} plays`,
                role: /chat/i.test(words) ? 'chat' : /music/i.test(words) ? 'music' : 'game',
                from: device(id, words),
                name: words,
              })),
            ]
          : [],
    },
    {
      title: 'One program alone',
      choices: listed
        ? devices.programs.map(({ program, words }): Choice => ({
            label: words,
            role: 'other',
            from: { kind: 'program', program },
            name: words,
          }))
        : [],
    },
    {
      title: 'By this page',
      choices: real
        ? [
            {
              label: 'The browser’s microphone',
              role: 'voice',
              from: { kind: 'page', what: 'microphone' },
              name: 'Microphone',
            },
            {
              label: 'What this PC plays, where the browser offers it',
              role: 'game',
              from: { kind: 'page', what: 'playback' },
              name: 'Game',
            },
          ]
        : [],
    },
    {
      title: 'Stand-ins of the practice game',
      choices: isGrabbed(recipe.source)
        ? []
        : (['game', 'voice', 'chat'] as const).map((part): Choice => {
            const from: SoundFrom = { kind: 'practice', part };
            return {
              label: fromWords(from),
              role: part,
              from,
              name: part === 'game' ? 'Game' : part === 'voice' ? 'Voice' : 'Chat',
            };
          }),
    },
  ];
  return groups.filter(({ choices }) => choices.length > 0);
}

function ChoiceMenu({
  anchor,
  label,
  onClose,
  onChoose,
}: {
  anchor: HTMLElement | null;
  label: string;
  onClose: () => void;
  onChoose: (choice: Choice) => void;
}) {
  const groups = useChoices();
  return (
    <Menu open={anchor !== null} anchorEl={anchor} onClose={onClose} aria-label={label}>
      {groups.flatMap(({ title, choices }) => [
        <ListSubheader key={title} className="menu-heading">
          {title}
        </ListSubheader>,
        ...choices.map((choice) => (
          <MenuItem
            key={`${title} ${choice.label}`}
            onClick={() => {
              onClose();
              onChoose(choice);
            }}
          >
            {choice.label}
          </MenuItem>
        )),
      ])}
    </Menu>
  );
}

/** A further sound: chosen from all that this PC has, heard at once, and kept on the first lane. */
export function AddSound() {
  const { recipe, change } = useSound();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const add = ({ role, from, name }: Choice) => {
    const next = addSoundOf(recipe, role, from, name) ?? addSoundOf(recipe, 'other', from, name);
    const id = next?.sounds.at(-1)?.id;
    if (next && id) change(next.lanes.length ? keepOn(next, id, 0) : next);
  };
  return (
    <div className="heard-add">
      <button type="button" className="link" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        <Icon name="plus" /> Hear something else
      </button>
      <ChoiceMenu anchor={anchor} label="What else to hear" onClose={() => setAnchor(null)} onChoose={add} />
    </div>
  );
}

/** Where a sound comes from, changed in place. */
export function SourceMenu({ sound }: { sound: SoundInput }) {
  const { changeSound } = useSound();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className="word"
        aria-haspopup="menu"
        aria-label={`Where ${sound.name} comes from: ${fromWords(sound.from)}. Change it`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {fromWords(sound.from)}
      </button>
      <ChoiceMenu
        anchor={anchor}
        label={`Where ${sound.name} comes from`}
        onClose={() => setAnchor(null)}
        onChoose={({ from }) => changeSound(sound.id, { from })}
      />
    </>
  );
}
