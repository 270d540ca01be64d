import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { cameraSchema } from '@mellow/model';
import { cameraInputFor, listedCameras } from './cameraTable';

const camera = cameraSchema.parse({
  from: { kind: 'device', device: 'Desk camera', name: 'Desk camera' },
  ...{ widthPx: 1280, heightPx: 720, fps: 30 },
});

describe('how a camera is opened', () => {
  // Written from FFmpeg's documentation of its devices; only the shape of Linux is tried, with its generator in its place.
  it.each([
    ['linux', { format: 'v4l2', address: 'Desk camera' }],
    ['win32', { format: 'dshow', address: 'video=Desk camera' }],
    ['darwin', { format: 'avfoundation', address: 'Desk camera:none' }],
  ] as const)('on %s', (platform, input) => {
    expect(cameraInputFor(platform, camera)).toMatchObject({
      ...input,
      options: { video_size: '1280x720', framerate: '30' },
    });
  });
  it('is a sentence where it cannot be', () => {
    expect(cameraInputFor('aix', camera)).toContain('not opened on this system');
    expect(cameraInputFor('linux', { ...camera, from: { kind: 'stand-in' } })).toContain('drawn');
  });
});

describe('the cameras of a system', () => {
  let folder: string;
  beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-cameras-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));
  const node = (name: string, files: Record<string, string>): void => {
    mkdirSync(join(folder, name));
    for (const [file, text] of Object.entries(files)) writeFileSync(join(folder, name, file), `${text}\n`);
  };

  it('on Linux are the first node of each, in the order of their numbers', () => {
    node('video10', { name: 'Second', index: '0' });
    node('video2', { name: 'Desk camera', index: '0' });
    node('video3', { name: 'Desk camera', index: '1' });
    node('video4', {});
    expect(listedCameras('linux', [], folder)).toEqual({
      trouble: null,
      cameras: [
        { device: '/dev/video2', name: 'Desk camera' },
        { device: '/dev/video4', name: 'video4' },
        { device: '/dev/video10', name: 'Second' },
      ],
    });
  });
  it('are none where there are none, in words', () => {
    expect(listedCameras('linux', [], join(folder, 'none'))).toMatchObject({ cameras: [] });
    expect(listedCameras('win32', []).trouble).toContain('No camera was found');
    expect(listedCameras('aix', []).trouble).toContain('not opened on this system');
  });
  it('elsewhere are what the library lists, without microphones', () => {
    const listed = [
      { name: 'Mic', description: 'Microphone', type: 'audio', isDefault: true },
      { name: 'cam-1', description: 'Desk camera', type: 'video', isDefault: false },
    ] as const;
    expect(listedCameras('darwin', listed).cameras).toEqual([{ device: 'cam-1', name: 'Desk camera' }]);
  });
});
