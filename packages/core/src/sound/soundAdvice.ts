import { roleOf, type Recipe, type SoundDevice, type SoundDevices, type SoundInput } from '@mellow/model';
import { sampleRateHz } from '../codec/soundRates';
import { deviceOf } from './devices';

/** A line about a device: what it gives, and whether something is to be looked at. */
export interface FormatLine {
  name: string;
  gives: string;
  note: string;
  fine: boolean;
  /** What is not as it should be, what it means and what to do; null where all is well. */
  text: string | null;
}

const channelWords: Record<number, string> = { 1: 'mono', 2: 'stereo', 6: '5.1', 8: '7.1' };

/** "48 kHz, 24 bit, stereo". */
export function formatWords({ rateHz, bits, channels }: Pick<SoundDevice, 'rateHz' | 'bits' | 'channels'>): string {
  if (rateHz === null) return 'not told by the system';
  const count = channels ? (channelWords[channels.length] ?? `${channels.length} channels`) : null;
  return [`${rateHz / 1000} kHz`, bits === null ? null : `${bits} bit`, count].filter(Boolean).join(', ');
}

/** What every device that is heard gives, and what would be changed of it on the way. */
export function formatLines(sounds: readonly SoundInput[], devices: SoundDevices): FormatLine[] {
  const seen = new Set<string>();
  return sounds.flatMap((sound): FormatLine[] => {
    const device = deviceOf(sound.from, devices);
    if (!device || seen.has(device.device)) return [];
    seen.add(device.device);
    return [lineOf(device)];
  });
}

/** What can be amiss with a device, the worst first. */
const troubles: readonly Trouble[] = [
  ({ muted, words }) =>
    muted
      ? {
          note: 'muted',
          text: `${words} is muted in the system, so its lane would be silent. Open it in the system’s sound panel.`,
        }
      : null,
  ({ kind, boostDb, words }) =>
    boostDb !== null && boostDb > 0.5
      ? {
          note: `boost ${boostDb.toFixed(0)} dB`,
          text: `${words} is amplified by ${boostDb.toFixed(0)} dB in the system beyond its full scale: loud words clip before they come here. ${kind === 'microphone' ? 'Set its level there to 100 % and raise it here.' : 'Set its level there to 100 %.'}`,
        }
      : null,
  ({ kind, volumeDb, words }) =>
    kind === 'microphone' && volumeDb !== null && volumeDb < -20
      ? {
          note: `${volumeDb.toFixed(0)} dB there`,
          text: `${words} is turned down by ${Math.abs(volumeDb).toFixed(0)} dB in the system; raised here, its noise rises too. Raise it there first.`,
        }
      : null,
  ({ channels, words }) =>
    channels && channels.length > 2
      ? {
          note: 'mixed down',
          text: `${words} runs in ${channelWords[channels.length] ?? `${channels.length} channels`}: the lanes are stereo, so it is mixed down (ITU-R BS.775). Where the game can be set to stereo, its own mix is better.`,
        }
      : null,
  ({ rateHz, words }) =>
    rateHz !== null && rateHz !== sampleRateHz
      ? {
          note: 'resampled',
          text: `${words} runs at ${rateHz / 1000} kHz: on a lane it is resampled to 48 kHz. Where the system can be set to 48 kHz, nothing has to be.`,
        }
      : null,
];

function lineOf(device: SoundDevice): FormatLine {
  const line = { name: device.words, gives: formatWords(device) };
  const found = troubles.flatMap((trouble) => trouble(device) ?? [])[0];
  if (found) return { ...line, fine: false, ...found };
  return { ...line, fine: true, note: '', text: null };
}

type Trouble = (device: SoundDevice) => { note: string; text: string } | null;

/** Sounds that bring whatever this PC plays, not the game alone. */
export const bringsEverything = (sound: SoundInput, devices: SoundDevices): boolean =>
  (sound.from.kind === 'page' && sound.from.what === 'playback') || deviceOf(sound.from, devices)?.kind === 'output';

/** Steps that give a program an output of its own, so that it gets a lane of its own, and is still heard. */
export const apartSteps: Record<SoundDevices['by'], readonly string[]> = {
  pulse: [
    'Make an output that nobody hears: pactl load-module module-null-sink sink_name=chat sink_properties=device.description=Chat',
    'Hear it all the same: pactl load-module module-loopback source=chat.monitor',
    'Choose Chat as the output in the chat program, or move it there in the system’s sound panel.',
    'Add “Chat” here as a further sound. Both are gone after the next start of the PC.',
  ],
  dshow: [
    'Install a virtual device: a driver that makes an output whose end is a microphone.',
    'Choose its output in the chat program.',
    'In the system’s sound panel, open the properties of its end and let it be heard through your headphones.',
    'Add its end here as a further sound; take exclusive use off for both, or the level may change while a take rolls.',
  ],
  avfoundation: [
    'Install a virtual device: a driver that makes an output whose end is a microphone.',
    'In the system’s own audio set-up, join it and your headphones to one output, so that you still hear it.',
    'Choose that output in the chat program, and add the virtual device here.',
  ],
  none: ['This system offers no sound devices here; the page’s microphone can be heard.'],
};

/** How far the voice stands above the game now, by their peaks, decibels; null where one of them is silent. */
export function voiceAboveGame(
  recipe: Pick<Recipe, 'sounds'>,
  peakOf: (id: SoundInput['id']) => number | null,
): number | null {
  const loudest = (role: 'voice' | 'game'): number | null =>
    recipe.sounds
      .filter(({ id }) => roleOf(id) === role)
      .map(({ id }) => peakOf(id))
      .reduce<number | null>((best, peak) => (peak === null ? best : Math.max(best ?? -Infinity, peak)), null);
  const [voice, game] = [loudest('voice'), loudest('game')];
  return voice === null || game === null ? null : voice - game;
}
