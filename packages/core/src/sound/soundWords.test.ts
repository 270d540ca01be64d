import type { Lane, Recipe, SoundDevice, SoundDevices, SoundInput, Source } from '@mellow/model';
import { clashStations, recipeClashes, settingFacts } from '../recipe';
import { baseRecipe } from '../recipe/anyRecipe.test-support';
import {
  apartSteps,
  bringsEverything,
  deviceOf,
  formatLines,
  formatWords,
  fromWords,
  gameUnderVoiceZone,
  laneZone,
  mixZone,
  ownSounds,
  portableSounds,
  soundInputWords,
  voiceAboveGame,
  voiceZone,
} from './index';

const sound = (change: Partial<SoundInput> = {}): SoundInput => ({
  id: 'voice',
  name: 'Voice',
  from: { kind: 'device', device: 'desk', words: 'Desk microphone' },
  gainDb: 0,
  muted: false,
  opening: 'open',
  ...change,
});
const device = (change: Partial<SoundDevice> = {}): SoundDevice => ({
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
const devicesOf = (...devices: SoundDevice[]): SoundDevices => ({ trouble: null, by: 'pulse', devices, programs: [] });
const headphones = device({
  device: 'out.monitor',
  words: 'Headphones',
  kind: 'output',
  channels: ['front-left', 'front-right'],
});

describe('a sound in words', () => {
  it.each<[SoundInput['from'], string]>([
    [{ kind: 'practice', part: 'game' }, 'practice game, stand-in'],
    [{ kind: 'practice', part: 'voice' }, 'voice, stand-in'],
    [{ kind: 'device', device: '@heard', words: '' }, 'what this PC plays'],
    [{ kind: 'device', device: '@microphone', words: '' }, 'the microphone in use'],
    [{ kind: 'device', device: 'desk', words: 'Desk microphone' }, 'Desk microphone'],
    [{ kind: 'device', device: 'desk', words: '' }, 'desk'],
    [{ kind: 'program', program: 'talker' }, 'the program talker'],
    [{ kind: 'page', what: 'microphone' }, 'microphone by this page'],
    [{ kind: 'page', what: 'playback' }, 'what this PC plays, by this page'],
  ])('%j is %s', (from, words) => expect(fromWords(from)).toBe(words));
  it('has its level, and when it is open', () => {
    expect(soundInputWords(sound({ gainDb: -6, opening: 'held' }))).toBe(
      'Voice (Desk microphone) −6 dB, open while held',
    );
    expect(soundInputWords(sound({ muted: true }))).toBe('Voice (Desk microphone) muted');
  });
  it('is a difference between two recipes', () => {
    const louder = { ...baseRecipe, sounds: baseRecipe.sounds.map((one) => ({ ...one, gainDb: 3 })) };
    expect(settingFacts.sounds.words(louder)).not.toBe(settingFacts.sounds.words(baseRecipe));
    expect(settingFacts.sounds.copy(baseRecipe, louder)).toEqual(baseRecipe);
    expect(settingFacts.leadIn.words({ ...baseRecipe, leadIn: 'mark' })).toBe('a quiet second and three marks');
  });
});

describe('where a lane’s peaks should stand', () => {
  const lane = (...sources: Lane['sources']): Lane => ({ name: 'L', sources, codec: 'flac', bitrateKbps: 160 });
  it('a voice in its zone, a game under it where a voice is kept beside, a mix between', () => {
    const [mix, voice, game] = [lane('game', 'voice'), lane('voice'), lane('game')];
    expect(laneZone(voice, [mix, voice, game])).toBe(voiceZone);
    expect(laneZone(lane('chat'), [mix])).toBe(voiceZone);
    expect(laneZone(game, [mix, voice, game])).toBe(gameUnderVoiceZone);
    expect(laneZone(game, [mix, game])).toBe(mixZone);
    expect(laneZone(mix, [mix, voice, game])).toBe(mixZone);
  });
});

describe('devices', () => {
  it('are found by name, by use, and not at all where they are not', () => {
    const there = devicesOf(device({ device: 'other', usual: false }), device(), headphones);
    const from = (name: string) => deviceOf({ kind: 'device', device: name, words: '' }, there)?.device;
    expect(from('@microphone')).toBe('desk');
    expect(from('@heard')).toBe('out.monitor');
    expect(from('other')).toBe('other');
    expect(from('gone')).toBeUndefined();
    expect(deviceOf({ kind: 'page', what: 'microphone' }, there)).toBeNull();
    // A PC whose chosen source is an output's monitor has no microphone in use; any that is there is one.
    expect(
      deviceOf({ kind: 'device', device: '@microphone', words: '' }, devicesOf(device({ usual: false }))),
    ).not.toBeNull();
    expect(deviceOf({ kind: 'device', device: '@microphone', words: '' }, devicesOf(headphones))).toBeNull();
  });
  it('tell their format', () => {
    expect(formatWords(device())).toBe('48 kHz, 24 bit, mono');
    expect(formatWords(device({ rateHz: 44_100, bits: null, channels: ['front-left', 'front-right'] }))).toBe(
      '44.1 kHz, stereo',
    );
    expect(formatWords(device({ rateHz: null }))).toBe('not told by the system');
  });
  it.each<[string, Partial<SoundDevice>, string]>([
    ['muted in the system', { muted: true }, 'muted in the system'],
    ['boosted', { boostDb: 11, volumeDb: 11 }, 'amplified by 11 dB'],
    ['turned down', { volumeDb: -30 }, 'turned down by 30 dB'],
    [
      'with many channels',
      { channels: ['front-left', 'front-right', 'front-center', 'lfe', 'rear-left', 'rear-right'] },
      '5.1',
    ],
    ['at another rate', { rateHz: 44_100 }, '44.1 kHz'],
  ])('%s are told, with what to do', (_, change, words) => {
    const [line] = formatLines([sound()], devicesOf(device(change)));
    expect(line).toMatchObject({ name: 'Desk microphone', fine: false });
    expect(line?.text).toContain(words);
  });
  it('that give what is wanted are fine, each is told once, stand-ins and programs not at all', () => {
    const lines = formatLines(
      [
        sound(),
        sound({ id: 'voice-2' }),
        sound({ id: 'game', from: { kind: 'practice', part: 'game' } }),
        sound({ id: 'music', from: { kind: 'program', program: 'box' } }),
      ],
      devicesOf(device()),
    );
    expect(lines).toEqual([
      { name: 'Desk microphone', gives: '48 kHz, 24 bit, mono', note: '', fine: true, text: null },
    ]);
  });
  it('bring everything that is played where they are outputs, or the page’s playback', () => {
    const there = devicesOf(device(), headphones);
    expect(bringsEverything(sound({ from: { kind: 'device', device: '@heard', words: '' } }), there)).toBe(true);
    expect(bringsEverything(sound({ from: { kind: 'page', what: 'playback' } }), there)).toBe(true);
    expect(bringsEverything(sound(), there)).toBe(false);
    expect(bringsEverything(sound({ from: { kind: 'program', program: 'box' } }), there)).toBe(false);
  });
  it('have a way to keep the chat apart on every system', () => {
    for (const steps of Object.values(apartSteps)) expect(steps.length).toBeGreaterThan(0);
  });
});

describe('sounds of another PC', () => {
  it('become what that PC chooses; stand-ins and the page stay', () => {
    const all: SoundInput[] = [
      sound(),
      sound({ id: 'game', from: { kind: 'device', device: 'out.monitor', words: 'Somebody’s headphones' } }),
      sound({ id: 'music', from: { kind: 'program', program: 'private-player' } }),
      sound({ id: 'chat', from: { kind: 'practice', part: 'chat' } }),
      sound({ id: 'voice-2', from: { kind: 'page', what: 'microphone' } }),
    ];
    expect(portableSounds(all).map(({ from }) => (from.kind === 'device' ? from.device : from.kind))).toEqual([
      '@microphone',
      '@heard',
      '@heard',
      'practice',
      'page',
    ]);
    expect(JSON.stringify(portableSounds(all))).not.toMatch(/Somebody|private/);
  });
});

describe('a person’s own game', () => {
  const window: Source = {
    kind: 'window',
    windowId: 7,
    title: 'Game',
    whenClosed: 'end',
    ...{ leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 720, pointer: true },
  };
  const own: Recipe = { ...baseRecipe, source: window };
  it('clashes with the practice game’s sounds, and the remedy settles it', () => {
    const clash = recipeClashes(own).find(({ id }) => id === 'source-sound');
    expect(clash).toMatchObject({ weight: 'stops' });
    expect(clash?.title).toBe('Game, Voice and Chat would be the practice game’s');
    const settled = clash!.remedy.recipe;
    expect(recipeClashes(settled).filter(({ id }) => clashStations[id] === 'sound')).toEqual([]);
    expect(settled.sounds.map(({ id, name, from }) => [id, name, from.kind === 'device' && from.device])).toEqual([
      ['game', 'Game', '@heard'],
      ['voice', 'Microphone', '@microphone'],
    ]);
    expect(settled.lanes.map(({ sources }) => sources)).toEqual([['game', 'voice'], ['voice'], ['game']]);
  });
  it('has no clash where no lane keeps a stand-in', () => {
    expect(recipeClashes({ ...own, lanes: [] }).map(({ id }) => id)).not.toContain('source-sound');
    expect(recipeClashes(ownSounds(own)).map(({ id }) => id)).not.toContain('source-sound');
  });
  it('drops a lane that kept the chat alone', () => {
    const chat: Lane = { name: 'Chat', sources: ['chat'], codec: 'flac', bitrateKbps: 160 };
    expect(ownSounds({ ...own, lanes: [chat] }).lanes).toEqual([]);
  });
  it('a lane that keeps what nothing brings is a clash with a remedy', () => {
    const broken: Recipe = { ...baseRecipe, sounds: baseRecipe.sounds.filter(({ id }) => id !== 'voice') };
    const clash = recipeClashes(broken).find(({ id }) => id === 'lane-of-nothing');
    expect(clash?.title).toBe('Everything and Voice keep a sound that nothing brings');
    expect(recipeClashes(clash!.remedy.recipe).map(({ id }) => id)).not.toContain('lane-of-nothing');
  });
});

describe('the voice against the game', () => {
  it('is the difference of their loudest peaks', () => {
    const peaks: Partial<Record<SoundInput['id'], number>> = { voice: -20, 'voice-2': -12, game: -26 };
    const recipe = { sounds: [sound(), sound({ id: 'voice-2' }), sound({ id: 'game' })] };
    expect(voiceAboveGame(recipe, (id) => peaks[id] ?? null)).toBe(14);
    expect(voiceAboveGame(recipe, (id) => (id === 'game' ? null : -12))).toBeNull();
    expect(voiceAboveGame({ sounds: [] }, () => -12)).toBeNull();
  });
});
