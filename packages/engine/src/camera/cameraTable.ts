import { readdirSync, readFileSync } from 'node:fs';
import type { Camera, CameraDevices, CameraInput } from '@mellow/model';
import type { ListedDevice } from '../sound/deviceTable';

const asked = ({ widthPx, heightPx, fps }: Camera): Record<string, string> => ({
  video_size: `${widthPx}x${heightPx}`,
  framerate: String(fps),
});

/** FFmpeg's documentation of its devices: "video4linux2", "dshow", "avfoundation". The last two are written from it and not tried. */
const tables: Partial<Record<NodeJS.Platform, (device: string, camera: Camera) => CameraInput>> = {
  linux: (device, camera) => ({ format: 'v4l2', address: device, options: asked(camera) }),
  win32: (device, camera) => ({
    format: 'dshow',
    address: `video=${device}`,
    // Half a second of pictures may wait, so that none is dropped while the system is busy.
    options: { ...asked(camera), rtbufsize: String(camera.widthPx * camera.heightPx * 2 * Math.ceil(camera.fps / 2)) },
  }),
  // No sound with it: that is heard by itself.
  darwin: (device, camera) => ({ format: 'avfoundation', address: `${device}:none`, options: asked(camera) }),
};

/** How a recipe's camera is opened on a system; a sentence where it cannot be. */
export function cameraInputFor(platform: NodeJS.Platform, camera: Camera): CameraInput | string {
  if (camera.from.kind !== 'device') return 'The stand-in camera is drawn, not opened.';
  return tables[platform]?.(camera.from.device, camera) ?? 'Cameras are not opened on this system yet.';
}

/** The cameras that Linux lists, by their nodes; one camera may have several, of which the first brings pictures. */
function linuxCameras(folder = '/sys/class/video4linux'): CameraDevices['cameras'] {
  let nodes: string[];
  try {
    nodes = readdirSync(folder).toSorted((a, b) => a.localeCompare(b, 'en', { numeric: true }));
  } catch {
    return [];
  }
  const text = (node: string, name: string): string => {
    try {
      return readFileSync(`${folder}/${node}/${name}`, 'utf8').trim();
    } catch {
      return '';
    }
  };
  return nodes
    .filter((node) => (text(node, 'index') || '0') === '0')
    .map((node) => ({ device: `/dev/${node}`, name: text(node, 'name') || node }));
}

const noneWords = 'No camera was found. Plug one in, or let the stand-in camera show where it will lie.';

/** Cameras of a system. @param listed what the library lists, where it does @param folder Linux' own list */
export function listedCameras(
  platform: NodeJS.Platform,
  listed: readonly ListedDevice[],
  folder?: string,
): CameraDevices {
  if (!tables[platform]) return { trouble: 'Cameras are not opened on this system yet.', cameras: [] };
  const cameras =
    platform === 'linux'
      ? linuxCameras(folder)
      : listed
          .filter(({ type }) => type === 'video')
          .map(({ name, description }) => ({ device: name, name: description || name }));
  return { trouble: cameras.length ? null : noneWords, cameras };
}
