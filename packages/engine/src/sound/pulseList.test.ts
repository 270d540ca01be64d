import {
  deviceTap,
  heardTap,
  microphoneTap,
  placesOf,
  programTap,
  pulseDevices,
  sampleSpecification,
  type PulseState,
} from './pulseList';
import { parecArguments } from './pulseFeed';

/** As `pactl -f json` of PulseAudio 16.1 answers (taken from a run), shortened to what is read. */
const volume = (db: string) => ({ 'front-left': { db }, 'front-right': { db } });
const state: PulseState = {
  sinks: [
    {
      index: 0,
      name: 'headphones',
      description: 'Headphones',
      sample_specification: 's24le 2ch 48000Hz',
      channel_map: 'front-left,front-right',
      mute: false,
      volume: volume('-6.02 dB'),
      base_volume: { db: '0.00 dB' },
    },
    {
      index: 3,
      name: 'film',
      description: 'Living room',
      sample_specification: 'float32le 6ch 44100Hz',
      channel_map: 'front-left,front-right,rear-left,rear-right,front-center,lfe',
      mute: true,
      volume: volume('0.00 dB'),
    },
  ],
  sources: [
    {
      index: 0,
      name: 'headphones.monitor',
      description: 'Monitor of Headphones',
      monitor_source: 'headphones',
      sample_specification: 's24le 2ch 48000Hz',
      channel_map: 'front-left,front-right',
      mute: false,
      volume: volume('0.00 dB'),
    },
    {
      index: 4,
      name: 'film.monitor',
      description: 'Monitor of Living room',
      monitor_source: 'film',
      sample_specification: 'float32le 6ch 44100Hz',
      channel_map: 'front-left,front-right,rear-left,rear-right,front-center,lfe',
      mute: false,
      volume: volume('0.00 dB'),
    },
    {
      index: 7,
      name: 'desk',
      description: 'Tischmikrofon Süd',
      monitor_source: '',
      sample_specification: 's16le 1ch 44100Hz',
      channel_map: 'mono',
      mute: false,
      volume: { mono: { db: '11.00 dB' } },
      base_volume: { db: '-5.00 dB' },
    },
    {
      index: 9,
      name: 'silent',
      description: null,
      monitor_source: null,
      sample_specification: 'u8 1ch 8000Hz',
      channel_map: 'aux0',
      mute: false,
      volume: { aux0: { db: '-inf dB' } },
    },
  ],
  programs: [
    { index: 20, sink: 0, properties: { 'application.name': 'Talker', 'application.process.binary': 'talker' } },
    { index: 21, sink: 3, properties: { 'application.name': 'Talker', 'application.process.binary': 'talker' } },
    { index: 22, sink: 0, properties: { 'media.name': 'bell' } },
    { index: 23, sink: 0, properties: {} },
  ],
  listeners: [],
  defaultSink: 'headphones',
  defaultSource: 'headphones.monitor',
};

describe('what the sound system tells', () => {
  const { devices, programs } = pulseDevices(state);
  const of = (name: string) => devices.find(({ device }) => device === name);
  it('becomes outputs by the name of what plays, and microphones by their own', () =>
    expect(devices.map(({ words, kind, usual }) => [words, kind, usual])).toEqual([
      ['Headphones', 'output', true],
      ['Living room', 'output', false],
      ['Tischmikrofon Süd', 'microphone', false],
      ['silent', 'microphone', false],
    ]));
  it('has formats and places of channels', () => {
    expect(of('headphones.monitor')).toMatchObject({
      rateHz: 48_000,
      bits: 24,
      channels: ['front-left', 'front-right'],
    });
    expect(of('film.monitor')?.channels).toEqual([
      'front-left',
      'front-right',
      'rear-left',
      'rear-right',
      'front-center',
      'lfe',
    ]);
    expect(of('silent')).toMatchObject({ rateHz: 8000, channels: ['other'] });
  });
  it('has volumes: of an output its own, a boost where it stands above the device’s full scale', () => {
    expect(of('headphones.monitor')).toMatchObject({ volumeDb: -6.02, boostDb: 0 });
    expect(of('desk')).toMatchObject({ volumeDb: 11, boostDb: 16 });
    expect(of('silent')).toMatchObject({ volumeDb: null, boostDb: null });
    expect(of('film.monitor')?.muted).toBe(true);
  });
  it('names programs once, by what they run as, and leaves out what has no name', () =>
    expect(programs).toEqual([
      { program: 'talker', words: 'Talker', output: 'Headphones' },
      { program: 'bell', words: 'bell', output: 'Headphones' },
    ]));
  it.each([
    ['s16le 2ch 44100Hz', 16, 44_100],
    ['s24-32le 8ch 96000Hz', 24, 96_000],
    ['float32le 1ch 16000Hz', 32, 16_000],
    ['u8 1ch 8000Hz', 8, 8000],
    ['', null, 48_000],
  ])('reads the format "%s"', (text, bits, rateHz) => expect(sampleSpecification(text)).toEqual({ bits, rateHz }));
  it('takes places it does not know as other ones', () =>
    expect(placesOf('front-left, aux3,side-right')).toEqual(['front-left', 'other', 'side-right']));
});

describe('a tap', () => {
  it('of what is heard is the monitor of the output in use', () => {
    expect(heardTap(state)).toMatchObject({ source: 'headphones.monitor', sourceIndex: 0, streamIndex: null });
    expect(heardTap({ ...state, defaultSink: null })).toBe('No output is in use on this PC.');
    expect(heardTap({ ...state, defaultSink: 'gone' })).toBe('No output is in use on this PC.');
  });
  it('of the microphone is never an output’s monitor', () => {
    expect(microphoneTap(state)).toMatchObject({ source: 'desk', words: 'Tischmikrofon Süd' });
    expect(microphoneTap({ ...state, defaultSource: 'silent' })).toMatchObject({ source: 'silent' });
    const none = state.sources.filter(({ monitor_source }) => monitor_source);
    expect(microphoneTap({ ...state, sources: none })).toBe('No microphone is connected to this PC.');
  });
  it('of a device that is gone says so, by the name people know', () =>
    expect(deviceTap(state, 'usb-0815', 'Headset')).toBe('Headset is not connected to this PC now.'));
  it('of a program is its newest stream, on the output where that plays', () => {
    expect(programTap(state, 'talker')).toMatchObject({ source: 'film.monitor', streamIndex: 21 });
    expect(programTap(state, 'nobody')).toBe('nobody plays nothing now.');
  });
  it('is recorded in its own rate and channels, whole or one stream of it', () => {
    const film = deviceTap(state, 'film.monitor', '');
    const talker = programTap(state, 'talker');
    if (typeof film === 'string' || typeof talker === 'string') throw new Error('both are there');
    expect(parecArguments(film)).toEqual(
      expect.arrayContaining([
        '-d',
        'film.monitor',
        '--rate=44100',
        '--channels=6',
        `--channel-map=${film.channelMap}`,
      ]),
    );
    expect(parecArguments(talker)).toContain('--monitor-stream=21');
    expect(parecArguments(talker)).not.toContain('-d');
  });
});
