import { errorText } from '@mellow/core';
import workletUrl from './pageSoundWorklet.ts?worker&url';

/** What this page listens to for the recorder. */
export type PageSoundKind = 'microphone' | 'playback';

export interface PageSoundState {
  /** Name of the device as the browser tells it; null: it does not listen. */
  words: string | null;
  opening: boolean;
  /** Why it cannot, or does not any more. */
  problem: string | null;
}

const closed: PageSoundState = { words: null, opening: false, problem: null };
let states: Record<PageSoundKind, PageSoundState> = { microphone: closed, playback: closed };
const endings = new Map<PageSoundKind, () => void>();
const listeners = new Set<() => void>();

/** The whole application listens with one page at a time; places come and go, and it goes on. */
export const pageSoundStates = (): Record<PageSoundKind, PageSoundState> => states;
export function onPageSound(listener: () => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}
function set(kind: PageSoundKind, state: Partial<PageSoundState>): void {
  states = { ...states, [kind]: { ...states[kind], ...state } };
  for (const listener of listeners) listener();
}

/** All that a browser does to voices is off: what is recorded is what the microphone gives. */
const untouched = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };

function streamOf(kind: PageSoundKind): Promise<MediaStream> {
  return kind === 'microphone'
    ? navigator.mediaDevices.getUserMedia({ audio: untouched })
    : // The picture is asked for because browsers give no sound without one; it is not looked at.
      navigator.mediaDevices.getDisplayMedia({ audio: untouched, video: true });
}

const refusals: Record<string, string> = {
  NotAllowedError: 'The browser was not allowed to listen. Allow it beside the address, and open it again.',
  NotFoundError: 'The browser finds no microphone on this PC.',
  NotReadableError: 'Another program keeps the device to itself. Close it there, and open it again.',
};

/** Opens a sound of this page and sends it to the recorder until it is closed. */
export async function openPageSound(kind: PageSoundKind): Promise<void> {
  closePageSound(kind);
  set(kind, { opening: true, problem: null });
  let stream: MediaStream | null = null;
  try {
    stream = await streamOf(kind);
    const [track] = stream.getAudioTracks();
    if (!track) throw new DOMException('', 'NoSound');
    await send(kind, stream, track);
  } catch (error) {
    for (const track of stream?.getTracks() ?? []) track.stop();
    const name = error instanceof DOMException ? error.name : '';
    const problem =
      refusals[name] ??
      (name === 'NoSound'
        ? 'No sound came along: share a tab or the whole screen with its sound. Not every browser and system offers that.'
        : `The page cannot listen: ${errorText(error)}`);
    set(kind, { ...closed, problem });
  }
}

async function send(kind: PageSoundKind, stream: MediaStream, track: MediaStreamTrack): Promise<void> {
  const context = new AudioContext({ latencyHint: 'interactive' });
  await context.audioWorklet.addModule(workletUrl);
  const node = new AudioWorkletNode(context, 'page-sound', { numberOfOutputs: 0 });
  const socket = new WebSocket(`ws://${location.host}/api/sounds/page`);
  let channels = 0;
  const end = (problem: string | null): void => {
    if (endings.get(kind) !== stop) return;
    endings.delete(kind);
    node.port.onmessage = null;
    socket.onclose = null;
    socket.close();
    for (const one of stream.getTracks()) one.stop();
    void context.close();
    set(kind, { ...closed, problem });
  };
  function stop(): void {
    end(null);
  }
  endings.set(kind, stop);
  node.port.onmessage = ({ data }: MessageEvent<{ channels: number; samples: Float32Array<ArrayBuffer> }>) => {
    if (socket.readyState !== WebSocket.OPEN) return;
    if (channels === 0) {
      channels = data.channels;
      socket.send(JSON.stringify({ what: kind, rateHz: context.sampleRate, channels }));
    }
    if (data.channels === channels) socket.send(data.samples);
  };
  socket.onclose = ({ code }) =>
    end(
      code === 4001
        ? 'Another page of the application listens now.'
        : 'The application is not there any more; start it, and open this again.',
    );
  track.onended = () => end('The device was taken away, or sharing was ended.');
  context.createMediaStreamSource(stream).connect(node);
  set(kind, { words: track.label || 'a device', opening: false, problem: null });
}

export function closePageSound(kind: PageSoundKind): void {
  endings.get(kind)?.();
}
