import { soundDevicesSchema, type SoundFrom } from '@mellow/model';
import { createLastHeard } from './lastHeard';
import { deviceInputFor, listedSounds, type ListedDevice } from './deviceTable';
import { samplesOfPcm } from './pcm';

const desk: SoundFrom = { kind: 'device', device: 'Desk Mic (USB)', words: 'Desk Mic' };
const listed: ListedDevice[] = [
  { name: 'Desk Mic (USB)', description: 'Desk Mic', type: 'audio', isDefault: true },
  { name: 'Cable', description: '', type: 'audio', isDefault: false },
  { name: 'Camera', description: 'Camera', type: 'video', isDefault: true },
  { name: 'Display 1', description: 'Display 1', type: 'screen', isDefault: true },
];

describe('sound devices of systems that were not tried', () => {
  // FFmpeg documentation, "dshow": -f dshow -i audio="NAME"; "avfoundation": -i ":NAME".
  it('are opened by the arguments their documentation gives', () => {
    expect(deviceInputFor('win32', desk)).toEqual({
      format: 'dshow',
      address: 'audio=Desk Mic (USB)',
      options: { audio_buffer_size: '20' },
    });
    expect(deviceInputFor('darwin', desk)).toEqual({ format: 'avfoundation', address: ':Desk Mic (USB)', options: {} });
    expect(deviceInputFor('darwin', { kind: 'device', device: '@microphone', words: '' })).toMatchObject({
      address: ':default',
    });
  });
  it.each(['win32', 'darwin'] as const)('%s says what it cannot hear, and what to do instead', (platform) => {
    for (const from of [
      { kind: 'device', device: '@heard', words: '' },
      { kind: 'program', program: 'talker' },
    ] as const) {
      const answer = deviceInputFor(platform, from);
      expect(typeof answer).toBe('string');
      expect(answer).toMatch(/virtual/);
    }
  });
  it('have nothing on a system nobody wrote a table for', () => {
    expect(deviceInputFor('sunos', desk)).toMatch(/page’s microphone/);
    expect(listedSounds('sunos', listed)).toMatchObject({ by: 'none', devices: [] });
  });
  it('are listed by the library’s own list: microphones, and nothing it does not tell', () => {
    const sounds = soundDevicesSchema.parse(listedSounds('win32', listed));
    expect(sounds.devices.map(({ device, words, usual }) => [device, words, usual])).toEqual([
      ['Desk Mic (USB)', 'Desk Mic', true],
      ['Cable', 'Cable', false],
    ]);
    for (const { rateHz, bits, volumeDb, muted } of sounds.devices)
      expect([rateHz, bits, volumeDb, muted]).toEqual([null, null, null, null]);
  });
});

describe('plain samples', () => {
  it.each([
    ['s16', [0, 0, 255, 127, 0, 128], [0, 32_767 / 32_768, -1]],
    ['s24', [0, 0, 0, 255, 255, 127, 0, 0, 128], [0, 8_388_607 / 8_388_608, -1]],
    ['s32', [0, 0, 0, 0, 255, 255, 255, 127, 0, 0, 0, 128], [0, 1, -1]],
    ['f32', [0, 0, 0, 0, 0, 0, 128, 63, 0, 0, 128, 191], [0, 1, -1]],
    ['f64', [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 240, 63], [0, 1]],
  ] as const)('%s become -1 to 1, wherever they lie', (kind, bytes, values) => {
    const shifted = Uint8Array.of(9, ...bytes).subarray(1);
    const samples = samplesOfPcm(shifted, kind);
    expect(samples).toHaveLength(values.length);
    values.forEach((value, i) => expect(samples[i]).toBeCloseTo(value, 6));
  });
  it('leave a piece of a sample at the end', () => expect(samplesOfPcm(Uint8Array.of(1, 2, 3), 's16')).toHaveLength(1));
});

describe('the last seconds of a lane', () => {
  it('are what came last, oldest first, and no more than ten', () => {
    const last = createLastHeard();
    expect(last.samples()).toHaveLength(0);
    for (let second = 1; second <= 13; second++) last.add(new Float32Array(96_000).fill(second / 100));
    const samples = last.samples();
    expect(samples).toHaveLength(10 * 96_000);
    expect(samples[0]).toBe(Math.round(0.04 * 32_767));
    expect(samples.at(-1)).toBe(Math.round(0.13 * 32_767));
  });
  it('are cut at full scale, as in the file', () => {
    const last = createLastHeard();
    last.add(Float32Array.of(1.5, -1.5));
    expect([...last.samples()]).toEqual([32_767, -32_768]);
  });
});
