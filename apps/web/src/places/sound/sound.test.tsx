import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { Provider } from 'react-redux';
import { changeSound } from '@mellow/core';
import type { HeardLevels, Recipe, SoundDevice, SoundDevices } from '@mellow/model';
import { createStore } from '../../store/store';
import { testRecipe, testSetup } from '../path/pathTest.test-support';
import { FormatsPanel } from './FormatsPanel';
import { HeardList } from './HeardList';
import { LanePanel } from './LanePanel';
import { Meter, shareOfDb } from './Meter';
import { MicrophonePanel } from './MicrophonePanel';
import { SoundContext, type SoundState } from './soundContext';
import { putDown, Staves, type Carrying } from './Staves';

const device = (change: Partial<SoundDevice>): SoundDevice => ({
  device: 'desk',
  words: 'Desk microphone',
  kind: 'microphone',
  usual: true,
  rateHz: 48_000,
  bits: 24,
  channels: ['mono'],
  volumeDb: 0,
  boostDb: 0,
  muted: false,
  ...change,
});
const devices: SoundDevices = {
  trouble: null,
  by: 'pulse',
  devices: [device({}), device({ device: 'out.monitor', words: 'Headphones', kind: 'output', rateHz: 44_100 })],
  programs: [{ program: 'talker', words: 'Talker', output: 'Headphones' }],
};
const levels: HeardLevels = {
  sounds: testRecipe.sounds.map(({ id }, i) => ({
    id,
    state: i === 2 ? 'away' : 'alive',
    peakDbfs: [-26, -12, null][i] ?? null,
    rmsDbfs: [-30, -18, null][i] ?? null,
    loudnessLufs: null,
    why: i === 2 ? 'Chat is not connected to this PC now.' : null,
  })),
  lanes: [
    { peakDbfs: -11, loudnessLufs: -20 },
    { peakDbfs: -12, loudnessLufs: -22 },
    { peakDbfs: -20, loudnessLufs: null },
  ],
};
const none: Carrying = {
  lifted: null,
  over: null,
  onLift: () => {},
  onOver: () => {},
  onKeyMove: () => {},
  onDrop: () => {},
};

let kept: Recipe = testRecipe;
function Place({ start, part = {} }: { start: Recipe; part?: Partial<SoundState> }) {
  const [recipe, setRecipe] = useState(start);
  const [lane, chooseLane] = useState(0);
  kept = recipe;
  const state: SoundState = {
    setup: testSetup,
    recipe,
    devices,
    levels: {
      now: levels,
      heldPeak: (id) => levels.sounds.find((sound) => sound.id === id)?.peakDbfs ?? null,
      heldLanePeak: (at) => levels.lanes[at]?.peakDbfs ?? null,
      history: () => Array.from({ length: 60 }, (_, i) => (i % 3 ? -62 : -20)),
    },
    trouble: null,
    lane,
    chooseLane,
    change: setRecipe,
    changeSound: (id, change) => setRecipe(changeSound(recipe, id, change)),
    ...part,
  };
  return (
    <SoundContext value={state}>
      <HeardList lifted={null} onLift={() => {}} onKeyMove={() => {}} onDrop={() => {}} />
      <Staves carrying={none} />
      <MicrophonePanel />
      <LanePanel />
      <FormatsPanel />
    </SoundContext>
  );
}
const show = (start: Recipe = testRecipe, part: Partial<SoundState> = {}) => {
  render(
    <Provider store={createStore()}>
      <Place start={start} part={part} />
    </Provider>,
  );
  return userEvent.setup();
};
const heard = () => within(screen.getByRole('region', { name: 'Heard' }));

describe('what is heard', () => {
  it('shows each sound with its state, and why one does not come', () => {
    show();
    expect(heard().getAllByText('alive now')).toHaveLength(2);
    expect(heard().getByText('Chat is not connected to this PC now.')).toBeInTheDocument();
    expect(heard().getByRole('img', { name: 'Voice: peak -12.0 dBFS' })).toBeInTheDocument();
    expect(heard().getByRole('img', { name: 'Chat: silent' })).toBeInTheDocument();
  });
  it('offers what this PC has, by where it comes from, and hears it at once on the first lane', async () => {
    const user = show();
    await user.click(screen.getByRole('button', { name: 'Hear something else' }));
    for (const name of [
      'The microphone in use',
      'Desk microphone',
      'What Headphones plays',
      'Talker',
      'The browser’s microphone',
    ])
      expect(screen.getByRole('menuitem', { name })).toBeInTheDocument();
    await user.click(screen.getByRole('menuitem', { name: 'Talker' }));
    expect(kept.sounds.at(-1)).toMatchObject({
      id: 'other',
      name: 'Talker',
      from: { kind: 'program', program: 'talker' },
    });
    expect(kept.lanes[0]?.sources).toContain('other');
  });
  it('of a simulated machine are the stand-ins only', async () => {
    const user = show(testRecipe, { setup: { ...testSetup, machineId: 'kestrel' } });
    await user.click(screen.getByRole('button', { name: 'Hear something else' }));
    expect(screen.getAllByRole('menuitem').map(({ textContent }) => textContent)).toEqual([
      'practice game, stand-in',
      'voice, stand-in',
      'chat, stand-in',
    ]);
  });
  it('changes where it comes from in place, its level, and whether it is heard', async () => {
    const user = show();
    await user.click(screen.getByRole('button', { name: /^Where Voice comes from/ }));
    await user.click(screen.getByRole('menuitem', { name: 'Desk microphone' }));
    expect(kept.sounds[1]?.from).toEqual({ kind: 'device', device: 'desk', words: 'Desk microphone' });
    const level = screen.getByLabelText('Level of Voice');
    await user.clear(level);
    await user.type(level, '-7{Enter}');
    expect(kept.sounds[1]?.gainDb).toBe(-7);
    await user.click(screen.getByRole('button', { name: 'Mute Voice' }));
    expect(kept.sounds[1]?.muted).toBe(true);
    expect(screen.getByRole('button', { name: 'Open Voice' })).toHaveAttribute('aria-pressed', 'true');
  });
  it('goes away with its lanes', async () => {
    const user = show();
    await user.click(heard().getByRole('button', { name: 'Voice' }));
    await user.click(screen.getByRole('menuitem', { name: 'Remove it' }));
    expect(kept.sounds.map(({ id }) => id)).toEqual(['game', 'chat']);
    expect(kept.lanes.map(({ name }) => name)).toEqual(['Everything', 'Game']);
  });
});

describe('the staves', () => {
  it('tell how each lane stands against its zone', () => {
    show();
    const score = within(screen.getByRole('region', { name: 'Kept' }));
    expect(score.getAllByText('in its zone')).toHaveLength(2);
    expect(score.getByText('4.0 dB above')).toBeInTheDocument();
    expect(score.getByText('balanced for a player')).toBeInTheDocument();
  });
  it('put a lane first by its menu', async () => {
    const user = show();
    await user.click(screen.getByRole('button', { name: 'More of lane 3' }));
    await user.click(screen.getByRole('menuitem', { name: 'Put it first' }));
    expect(kept.lanes.map(({ name }) => name)).toEqual(['Game', 'Everything', 'Voice']);
  });
  it('say what an empty score means', () => {
    show({ ...testRecipe, lanes: [] });
    expect(screen.getByText(/No lane yet: the file will be silent/)).toBeInTheDocument();
    expect(screen.getByText(/Bring a sound below the last stave/)).toBeInTheDocument();
  });
  it('take a token from what is heard, and move one from another stave', () => {
    expect(putDown(testRecipe, { source: 'chat', from: null }, 1).lanes[1]?.sources).toEqual(['voice', 'chat']);
    expect(putDown(testRecipe, { source: 'chat', from: 0 }, 3).lanes.map(({ sources }) => sources)).toEqual([
      ['game', 'voice'],
      ['voice'],
      ['game'],
      ['chat'],
    ]);
  });
});

describe('below', () => {
  it('the microphone tells its noise and where it stands above the game', async () => {
    const user = show();
    const panel = within(screen.getByRole('region', { name: 'Microphone' }));
    expect(panel.getByText('Quietest −62.0 dBFS in the last ten seconds.')).toBeInTheDocument();
    expect(panel.getByText('Now 14.0 dB above.')).toBeInTheDocument();
    await user.click(panel.getByRole('radio', { name: 'open while held' }));
    expect(kept.sounds[1]?.opening).toBe('held');
    expect(panel.getByText('V')).toBeInTheDocument();
  });
  it('is none where no voice is heard', () => {
    show({ ...testRecipe, sounds: testRecipe.sounds.filter(({ id }) => id !== 'voice'), lanes: [] });
    expect(within(screen.getByRole('region', { name: 'Microphone' })).getByText(/None is heard/)).toBeInTheDocument();
  });
  it('the lane has its codec, and says that players play the first one', async () => {
    const user = show();
    await user.click(screen.getByRole('button', { name: /^Lane 2, Voice/ }));
    const panel = within(screen.getByRole('region', { name: 'Lane' }));
    expect(panel.getByRole('heading', { name: 'Lane 2, Voice' })).toBeInTheDocument();
    await user.click(panel.getByRole('radio', { name: 'Opus' }));
    expect(kept.lanes[1]?.codec).toBe('opus');
    expect(panel.getByText('Players play the first lane only.')).toBeInTheDocument();
  });
  it('everything a PC plays is named where it is taken', () => {
    show({
      ...testRecipe,
      sounds: testRecipe.sounds.map((sound) =>
        sound.id === 'game' ? { ...sound, from: { kind: 'device', device: '@heard', words: '' } } : sound,
      ),
    });
    expect(screen.getByText('Game brings everything that is played there:')).toBeInTheDocument();
    const formats = within(screen.getByRole('region', { name: 'Formats' }));
    expect(formats.getByRole('rowheader', { name: 'Headphones' })).toBeInTheDocument();
    expect(formats.getByText('resampled')).toBeInTheDocument();
    expect(formats.getByText(/Headphones runs at 44.1 kHz/)).toBeInTheDocument();
  });
  it('a PC without a sound system says so, and what can be heard all the same', () => {
    show(testRecipe, { devices: { trouble: 'No sound system runs.', by: 'pulse', devices: [], programs: [] } });
    expect(
      screen.getByText(/No sound system runs. The page’s microphone and the stand-ins can be heard./),
    ).toBeInTheDocument();
  });
  it('the lead-in is chosen, and how to keep a chat apart is told', async () => {
    const user = show();
    await user.click(screen.getByRole('radio', { name: 'a quiet second and three marks' }));
    expect(kept.leadIn).toBe('mark');
    await user.click(screen.getByRole('button', { name: 'Keep the chat apart from the game' }));
    expect(screen.getByText(/module-null-sink/)).toBeInTheDocument();
  });
});

describe('a meter', () => {
  it('ends at full scale and at -60', () => {
    expect([shareOfDb(null), shareOfDb(-90), shareOfDb(-60), shareOfDb(-30), shareOfDb(0), shareOfDb(6)]).toEqual([
      0, 0, 0, 0.5, 1, 1,
    ]);
  });
  it('marks what is cut off', () => {
    const { container } = render(<Meter label="Lane" now={-0.05} held={0.2} />);
    expect(container.querySelector('.meter-post.over')).not.toBeNull();
  });
});
