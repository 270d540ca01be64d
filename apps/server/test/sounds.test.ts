import { mkdtempSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebSocket } from 'ws';
import { practiceSounds, soundDevicesSchema, type Recipe, type SoundInput } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

/** The server's part in sound: what can be heard, what a page brings, and what a trial asks for. */
let server: TestServer;
const before = { ...process.env };
beforeAll(async () => {
  // No sound system at all: what others have on their PC must not decide what these tests see.
  process.env['PULSE_SERVER'] = `unix:${join(mkdtempSync(join(tmpdir(), 'mellow-none-')), 'native')}`;
  server = await openTestServer();
});
afterAll(async () => {
  await server.close();
  if (before['PULSE_SERVER'] === undefined) delete process.env['PULSE_SERVER'];
  else process.env['PULSE_SERVER'] = before['PULSE_SERVER'];
});

const ask = (path: string, body?: unknown, method = body === undefined ? 'GET' : 'POST') =>
  fetch(`${server.url}/api${path}`, {
    method,
    ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  });
const pageAddress = () => `${server.url.replace('http', 'ws')}/api/sounds/page`;
const microphone: SoundInput = {
  id: 'voice',
  name: 'Microphone',
  from: { kind: 'page', what: 'microphone' },
  gainDb: 0,
  muted: false,
  opening: 'open',
};
const withVoice =
  (change: Partial<SoundInput>) =>
  (draft: Recipe): Recipe => ({
    ...draft,
    sounds: [practiceSounds[0]!, { ...microphone, ...change }],
    lanes: [
      { name: 'Game', sources: ['game'], codec: 'flac', bitrateKbps: 160 },
      { name: 'Voice', sources: ['voice'], codec: 'flac', bitrateKbps: 160 },
    ],
  });

/** Opens a page's sound as the page does. */
function openPage(hello: unknown, origin?: string): Promise<WebSocket> {
  return new Promise((resolve, reject) => {
    const page = new WebSocket(pageAddress(), origin === undefined ? {} : { origin });
    page.on('open', () => {
      page.send(typeof hello === 'string' ? hello : JSON.stringify(hello));
      resolve(page);
    });
    page.on('unexpected-response', (_request, response) => reject(new Error(String(response.statusCode))));
    page.on('error', reject);
  });
}
const closeOf = (page: WebSocket): Promise<number> => new Promise((resolve) => page.on('close', resolve));
const hello = { what: 'microphone', rateHz: 48_000, channels: 1 };
const comes = async (wanted: boolean): Promise<void> => {
  while (server.services.sounds.pages.comes('microphone') !== wanted) await new Promise((go) => setTimeout(go, 10));
};

describe('what can be heard', () => {
  it('is nothing where no sound system runs, and says why', async () => {
    const devices = soundDevicesSchema.parse(await (await ask('/sounds')).json());
    expect(devices).toMatchObject({ devices: [], programs: [] });
    expect(devices.trouble).toContain('No sound system runs');
  });
  it('has levels of the stand-ins all the same, and the last seconds of a lane as a WAVE file', async () => {
    const to = { sounds: practiceSounds, lanes: [['game', 'voice']] };
    for (;;) {
      const levels = (await (await ask('/sounds/levels', to)).json()) as { lanes: { peakDbfs: number | null }[] };
      if (levels.lanes[0]?.peakDbfs) break;
      await new Promise((go) => setTimeout(go, 50));
    }
    const answer = await ask('/sounds/last', { lane: 0 });
    expect(answer.headers.get('content-type')).toContain('audio/wav');
    const file = Buffer.from(await answer.arrayBuffer());
    expect(file.toString('latin1', 0, 4)).toBe('RIFF');
    expect(file.length).toBeGreaterThan(44 + 4800);
    expect((await ask('/sounds/last', { lane: 9 })).status).toBe(404);
    expect((await ask('/sounds/last', { lane: 99 })).status).toBe(400);
    expect((await ask('/sounds/last', { who: 'nobody', lane: 0 })).status).toBe(404);
  });
  it('is listened to for each tab by itself: two of them never take it from one another', async () => {
    const of = (who: string, gainDb: number) => ({
      who,
      sounds: [{ ...practiceSounds[0]!, gainDb }],
      lanes: [['game']],
    });
    const peaks = new Map<string, number>();
    while (peaks.size < 2)
      for (const [who, gainDb] of [
        ['one', 0],
        ['two', -30],
      ] as const) {
        const { sounds } = (await (await ask('/sounds/levels', of(who, gainDb))).json()) as {
          sounds: { peakDbfs: number | null }[];
        };
        const peak = sounds[0]?.peakDbfs;
        if (peak) peaks.set(who, peak);
        await new Promise((go) => setTimeout(go, 50));
      }
    expect(peaks.get('one')! - peaks.get('two')!).toBeGreaterThan(20);
  });
  it.each([
    [{ sounds: [{ ...microphone, gainDb: 500 }] }],
    [{ sounds: [microphone, microphone] }],
    [{ sounds: [{ ...microphone, from: { kind: 'telepathy' } }] }],
    [{ sounds: [], lanes: [['nobody']] }],
    [{}],
  ])('refuses %j', async (body) => expect((await ask('/sounds/levels', body)).status).toBe(400));
});

describe('a trial that keeps a sound', () => {
  it.each<[string, SoundInput['from'], string]>([
    ['of a page that does not listen', { kind: 'page', what: 'microphone' }, 'open it on Sound'],
    ['of a device', { kind: 'device', device: 'desk', words: 'Desk microphone' }, 'No sound system runs'],
    ['of the microphone in use', { kind: 'device', device: '@microphone', words: '' }, 'No sound system runs'],
    ['of a program', { kind: 'program', program: 'talker' }, 'No sound system runs'],
  ])('%s is refused before anything rolls, in words', async (_, from, words) => {
    const setup = await server.smallSetup(withVoice({ from }));
    const answer = await ask(`/setups/${setup.id}/trials`, { lengthS: 2 });
    const problem = (await answer.json()) as { type: string; detail: string };
    expect([answer.status, problem.type]).toEqual([409, '/problems/no-sound']);
    expect(problem.detail).toContain('Microphone: ');
    expect(problem.detail).toContain(words);
    expect(server.services.live.state().recorder).toBe('idle');
  });
  it.each([{ muted: true }, { opening: 'closed' as const }])(
    'rolls where it is not listened to: %j',
    async (change) => {
      const setup = await server.smallSetup(withVoice(change));
      const take = await server.services.recorder.startTrial(setup.id, 2);
      const ended = await server.untilEnded(take.id);
      expect(ended).toMatchObject({ state: 'closed', end: 'length' });
      expect(ended.facts?.lanes).toHaveLength(2);
    },
  );
  it('of a page that listens keeps what it sent, through the WebSocket into the file', async () => {
    const page = await openPage(hello);
    const tone = Float32Array.from({ length: 960 }, (_, i) => 0.25 * Math.sin((2 * Math.PI * 500 * i) / 48_000));
    const timer = setInterval(() => page.send(tone), 20);
    await comes(true);
    const setup = await server.smallSetup(withVoice({}));
    const take = await server.services.recorder.startTrial(setup.id, 3);
    const ended = await server.untilEnded(take.id);
    clearInterval(timer);
    page.close();
    await comes(false);
    expect(ended.sounds).toMatchObject([{ id: 'voice', rateHz: 48_000, channels: 1 }]);
    // A quarter of full scale is -12 dBFS; a page that comes by fits and starts may be off where pieces meet.
    expect(ended.summary?.lanePeakDbfs[1]).toBeGreaterThan(-14);
    expect(ended.summary?.lanePeakDbfs[1]).toBeLessThan(-8);
    expect(ended.verdict?.facts.find(({ name }) => name === 'Heard')?.found).toContain('48 kHz');
  });
});

describe('the page’s socket', () => {
  it('is there for pages of the application only', async () => {
    await expect(openPage(hello, 'http://elsewhere.example')).rejects.toThrow('403');
    const own = await openPage(hello, server.url);
    await comes(true);
    own.close();
    await comes(false);
  });
  it.each([
    ['no JSON', '{'],
    ['another sound', { ...hello, what: 'walls' }],
    ['no rate', { ...hello, rateHz: 0 }],
    ['too many channels', { ...hello, channels: 99 }],
  ])('closes on %s', async (_, first) => expect(await closeOf(await openPage(first))).toBe(4000));
  it('takes the newest page, and tells the one before', async () => {
    const first = await openPage(hello);
    await comes(true);
    const second = await openPage(hello);
    expect(await closeOf(first)).toBe(4001);
    await comes(true);
    second.close();
    await comes(false);
  });
  it('closes on half a sample, or words among samples', async () => {
    for (const wrong of [new Uint8Array(3), 'stop']) {
      const page = await openPage(hello);
      await comes(true);
      page.send(wrong);
      expect(await closeOf(page)).toBe(4000);
      await comes(false);
    }
  });
  it('hands samples to nobody who does not know the word', async () => {
    const page = await openPage(hello);
    await comes(true);
    const { address, token } = server.services.sounds.pages.door;
    const answer = (line: string): Promise<string> =>
      new Promise((resolve) => {
        const socket = connect(address);
        let got = '';
        socket.on('connect', () => socket.write(line));
        socket.on('data', (bytes) => {
          got += String(bytes);
          socket.destroy();
        });
        socket.on('close', () => resolve(got));
        socket.on('error', () => resolve('error'));
      });
    expect(await answer('guess microphone\n')).toBe('');
    expect(await answer(`${token} playback\n`)).toBe('');
    expect(await answer('x'.repeat(500))).toBe('');
    expect(await answer(`${token} microphone\n`)).toBe('{"rateHz":48000,"channels":1}\n');
    page.close();
    await comes(false);
  });
});

describe('a key that is held', () => {
  it('is refused while nothing rolls', async () => {
    const answer = await ask('/recorder/hold', { sound: 'voice', open: true });
    expect(answer.status).toBe(409);
    expect((await ask('/recorder/hold', { sound: 'nobody', open: true })).status).toBe(400);
  });
});
