import { closePageSound, onPageSound, openPageSound, pageSoundStates } from './pageSound';

/** The browser's parts that a page's sound stands on, as far as it asks them for anything. */
class FakeSocket {
  static readonly OPEN = 1;
  static last: FakeSocket | null = null;
  readyState = 1;
  sent: unknown[] = [];
  onclose: ((event: { code: number }) => void) | null = null;
  constructor(readonly url: string) {
    FakeSocket.last = this;
  }
  send(data: unknown): void {
    this.sent.push(data);
  }
  close(): void {
    this.readyState = 3;
  }
}
class FakeNode {
  static last: FakeNode | null = null;
  port: { onmessage: ((event: { data: unknown }) => void) | null } = { onmessage: null };
  constructor() {
    FakeNode.last = this;
  }
}
const context = {
  sampleRate: 44_100,
  audioWorklet: { addModule: jest.fn() },
  close: jest.fn(),
  createMediaStreamSource: () => ({ connect: jest.fn() }),
};
const track = { label: 'Desk microphone', stop: jest.fn(), onended: null as (() => void) | null };
const stream = { getAudioTracks: () => [track], getTracks: () => [track] };
const media = { getUserMedia: jest.fn(), getDisplayMedia: jest.fn() };

beforeEach(() => {
  jest.clearAllMocks();
  track.onended = null;
  media.getUserMedia.mockResolvedValue(stream);
  media.getDisplayMedia.mockResolvedValue(stream);
  Object.assign(globalThis, {
    WebSocket: FakeSocket,
    AudioWorkletNode: FakeNode,
    AudioContext: function AudioContext() {
      return context;
    },
  });
  Object.defineProperty(navigator, 'mediaDevices', { configurable: true, value: media });
});
afterEach(() => closePageSound('microphone'));

const state = () => pageSoundStates().microphone;
const piece = (channels: number, count = 4) => ({ data: { channels, samples: new Float32Array(count * channels) } });

describe('a page that listens', () => {
  it('asks for a microphone that nothing is done to, and says which one it has', async () => {
    await openPageSound('microphone');
    expect(media.getUserMedia).toHaveBeenCalledWith({
      audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
    });
    expect(state()).toEqual({ words: 'Desk microphone', opening: false, problem: null });
    expect(FakeSocket.last?.url).toMatch(/\/api\/sounds\/page$/);
  });
  it('tells the format with its first samples, then sends samples only', async () => {
    await openPageSound('microphone');
    FakeNode.last?.port.onmessage?.(piece(1));
    FakeNode.last?.port.onmessage?.(piece(1));
    const [hello, ...samples] = FakeSocket.last?.sent ?? [];
    expect(JSON.parse(String(hello))).toEqual({ what: 'microphone', rateHz: 44_100, channels: 1 });
    expect(samples).toHaveLength(2);
    for (const one of samples) expect(one).toBeInstanceOf(Float32Array);
  });
  it('leaves out pieces with another number of channels, and all before the socket is open', async () => {
    await openPageSound('microphone');
    FakeSocket.last!.readyState = 0;
    FakeNode.last?.port.onmessage?.(piece(1));
    expect(FakeSocket.last?.sent).toEqual([]);
    FakeSocket.last!.readyState = 1;
    FakeNode.last?.port.onmessage?.(piece(1));
    FakeNode.last?.port.onmessage?.(piece(2));
    expect(FakeSocket.last?.sent).toHaveLength(2);
  });
  it('stops device and socket when it is told to, and tells who watches', async () => {
    const seen = jest.fn();
    const forget = onPageSound(seen);
    await openPageSound('microphone');
    closePageSound('microphone');
    expect(track.stop).toHaveBeenCalled();
    expect(FakeSocket.last?.readyState).toBe(3);
    expect(state()).toEqual({ words: null, opening: false, problem: null });
    expect(seen).toHaveBeenCalled();
    forget();
  });
  it.each([
    [4001, 'Another page of the application listens now.'],
    [1006, 'The application is not there any more; start it, and open this again.'],
  ])('says why it ended: %d', async (code, words) => {
    await openPageSound('microphone');
    FakeSocket.last?.onclose?.({ code });
    expect(state()).toMatchObject({ words: null, problem: words });
    expect(track.stop).toHaveBeenCalled();
  });
  it('says that the device was taken away', async () => {
    await openPageSound('microphone');
    track.onended?.();
    expect(state().problem).toBe('The device was taken away, or sharing was ended.');
  });
  it.each([
    ['NotAllowedError', /was not allowed to listen/],
    ['NotFoundError', /finds no microphone/],
    ['NotReadableError', /keeps the device to itself/],
    ['OddError', /The page cannot listen: odd/],
  ])('says what a refusal means: %s', async (name, words) => {
    media.getUserMedia.mockRejectedValue(new DOMException('odd', name));
    await openPageSound('microphone');
    expect(state()).toMatchObject({ words: null, opening: false, problem: expect.stringMatching(words) as string });
  });
  it('takes what the PC plays by sharing, and says so where no sound came along', async () => {
    media.getDisplayMedia.mockResolvedValue({ getAudioTracks: () => [], getTracks: () => [track] });
    await openPageSound('playback');
    expect(pageSoundStates().playback.problem).toContain('No sound came along');
    expect(track.stop).toHaveBeenCalled();
  });
  it('opened again, lets the one before go', async () => {
    await openPageSound('microphone');
    const first = FakeSocket.last;
    await openPageSound('microphone');
    expect(first?.readyState).toBe(3);
    expect(FakeSocket.last).not.toBe(first);
    expect(state().words).toBe('Desk microphone');
  });
});
