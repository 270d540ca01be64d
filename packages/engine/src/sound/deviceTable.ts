import { heardDevice, microphoneDevice, type SoundDevices, type SoundFrom } from '@mellow/model';

/** How a system's microphones are opened by the library's own devices; Windows and macOS are written from documentation and not tried. */
export interface DeviceInput {
  format: 'dshow' | 'avfoundation' | 'lavfi';
  address: string;
  options: Record<string, string>;
}

interface DeviceTable {
  by: SoundDevices['by'];
  open(device: string): DeviceInput;
  /** What cannot be heard this way, and what can be done. */
  noOutputs: string;
}

/** Blocks of so much, instead of the half second that is usual there. */
const bufferMs = '20';

const tables: Partial<Record<NodeJS.Platform, DeviceTable>> = {
  win32: {
    by: 'dshow',
    // FFmpeg, "dshow": audio=NAME; audio_buffer_size in milliseconds.
    open: (device) => ({ format: 'dshow', address: `audio=${device}`, options: { audio_buffer_size: bufferMs } }),
    noOutputs:
      'Windows offers no microphone that hears what an output plays. Let this page hear what the PC plays, or send it to a virtual device and choose its end here.',
  },
  darwin: {
    by: 'avfoundation',
    // FFmpeg, "avfoundation": [[VIDEO]:[AUDIO]], both by name or number.
    open: (device) => ({ format: 'avfoundation', address: `:${device}`, options: {} }),
    noOutputs:
      'macOS offers no microphone that hears what an output plays. Send it to a virtual device and choose its end here.',
  },
};

/** How a sound is opened on a system; a sentence where it cannot be. */
export function deviceInputFor(platform: NodeJS.Platform, from: SoundFrom): DeviceInput | string {
  const table = tables[platform];
  if (!table) return 'Sound devices are not heard on this system yet; the page’s microphone is.';
  if (from.kind === 'program') return `One program alone cannot be heard on this system. ${table.noOutputs}`;
  if (from.kind !== 'device') return 'It is no device.';
  if (from.device === heardDevice) return table.noOutputs;
  if (from.device === microphoneDevice) return table.open('default');
  return table.open(from.device);
}

/** What the library tells of a device. */
export interface ListedDevice {
  name: string;
  description: string;
  type: 'video' | 'audio' | 'screen';
  isDefault: boolean;
}

/** The library's list as a choice; it tells names only. */
export function listedSounds(platform: NodeJS.Platform, listed: readonly ListedDevice[]): SoundDevices {
  const table = tables[platform];
  if (!table)
    return {
      trouble: 'Sound devices are not heard on this system yet; the page’s microphone is.',
      by: 'none',
      devices: [],
      programs: [],
    };
  return {
    trouble: null,
    by: table.by,
    devices: listed
      .filter(({ type }) => type === 'audio')
      .map(({ name, description, isDefault }) => ({
        device: name,
        words: description || name,
        kind: 'microphone' as const,
        usual: isDefault,
        rateHz: null,
        bits: null,
        channels: null,
        volumeDb: null,
        boostDb: null,
        muted: null,
      })),
    programs: [],
  };
}
