import { spawnSync } from 'node:child_process';
import { statSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { join } from 'node:path';
import { setupListSchema } from '@mellow/model';
import { openProgram, tokenIn, type Program, type Started } from './support/program';

/** Whatever strangers send, the program answers or closes the connection, and serves on (docs/security.md). */
let program: Program;
let started: Started;
let ended = false;
beforeAll(async () => {
  program = await openProgram();
  started = program.start();
  started.child.on('exit', () => (ended = true));
  await program.serving();
}, 60_000);
afterAll(() => program.close());

const address = (): string => `http://127.0.0.1:${program.port}`;
const host = (): string => `127.0.0.1:${program.port}`;
const lives = async (): Promise<void> => {
  expect(await program.serving()).toMatchObject({ recorder: 'idle' });
  expect(ended).toBe(false);
};

/** Sends text over a connection of its own. @returns what came back until it was closed */
function send(text: string, act: (socket: Socket) => void = () => {}): Promise<string> {
  return new Promise((resolve) => {
    const socket = connect(program.port, '127.0.0.1', () => {
      socket.write(text);
      act(socket);
    });
    let answer = '';
    socket.on('data', (chunk: Buffer) => (answer += chunk.toString('latin1')));
    socket.on('error', () => {});
    socket.on('close', () => resolve(answer));
    socket.setTimeout(5000, () => socket.destroy());
  });
}
const upgrade = (path: string, headers: readonly string[] = []): string =>
  [
    `GET ${path} HTTP/1.1`,
    `Host: ${host()}`,
    'Connection: Upgrade',
    'Upgrade: websocket',
    'Sec-WebSocket-Version: 13',
    'Sec-WebSocket-Key: AAAAAAAAAAAAAAAAAAAAAA==',
    ...headers,
    '',
    '',
  ].join('\r\n');

describe('sockets', () => {
  it.each([
    '//',
    '///',
    '/\\\\',
    'http://',
    '*',
    '/api/sounds/page',
    '/api/sounds/page/../..',
    '/%',
    '/\u00ff',
    `/${'a'.repeat(4000)}`,
  ])('are opened at %s only by the page', async (path) => {
    expect(await send(upgrade(path))).toMatch(/^HTTP\/1\.1 40[0134] /);
    expect(await send(upgrade(path, ['Origin: https://elsewhere.test']))).toMatch(/^HTTP\/1\.1 40[03] /);
  });

  it('that are reset as soon as they have asked end nothing', async () => {
    for (let i = 0; i < 300; i++)
      await send(upgrade(i % 2 ? '/' : '//'), (socket) => setImmediate(() => socket.resetAndDestroy()));
    await lives();
  }, 60_000);

  it('with what is no HTTP are refused', async () => {
    expect(await send('\u0000\u0001\u0002\r\n\r\n')).toMatch(/^HTTP\/1\.1 400 /);
    expect(await send('GET / HTTP/1.1\r\nHost: a\r\nHost: b\r\n\r\n')).toMatch(/^HTTP\/1\.1 40[03] /);
    await lives();
  });

  it('are the page’s with its cookie', async () => {
    const cookie = (await fetch(`${address()}/`)).headers.get('set-cookie')!.split(';')[0]!;
    const answer = await send(upgrade('/api/sounds/page', [`Origin: ${address()}`, `Cookie: ${cookie}`]), (socket) =>
      socket.once('data', () => socket.end()),
    );
    expect(answer).toMatch(/^HTTP\/1\.1 101 /);
  });
});

describe('who asks', () => {
  it('is answered by cookie or token, and otherwise told how', async () => {
    const page = await fetch(`${address()}/`);
    const cookie = page.headers.get('set-cookie') ?? '';
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    const ask = async (path: string, headers: Record<string, string> = {}, method = 'GET') =>
      (await fetch(`${address()}${path}`, { headers, method })).status;
    const own = { Cookie: cookie.split(';')[0]! };
    const token = { Authorization: `Bearer ${tokenIn(program.folder)}` };
    for (const path of ['/api/state', '/api/takes', '/api/openapi.json', '/api/log']) {
      expect(await ask(path)).toBe(401);
      expect(await ask(path, own)).toBe(200);
      expect(await ask(path, token)).toBe(200);
      // What anybody can write into a header opens nothing.
      expect(await ask(path, { Origin: address() })).toBe(401);
      expect(await ask(path, { Authorization: 'Bearer x', ...own })).toBe(401);
      expect(await ask(path, { Cookie: `${own.Cookie}x` })).toBe(401);
      expect(await ask(path, { ...own, Origin: 'https://elsewhere.test' })).toBe(403);
      expect(await ask(path, { ...token, Origin: 'null' })).toBe(403);
      expect(await ask(path, { ...own, 'Sec-Fetch-Site': 'cross-site' })).toBe(403);
    }
    expect(await ask('/api/recorder/stop', {}, 'POST')).toBe(401);
    expect(await ask('/api/recorder/stop', { ...own, Origin: address() }, 'POST')).toBe(409);
  });

  it('keeps what opens it for its owner', () => {
    for (const name of ['access.json', 'page-key']) expect(statSync(join(program.folder, name)).mode & 0o77).toBe(0);
  });

  const asOther = process.getuid?.() === 0 && process.platform === 'linux' ? it : it.skip;
  asOther('is not another user of this PC, whatever is shown', () => {
    const script = `fetch('${address()}/').then((r) => process.stdout.write(String(r.status) + (r.headers.get('set-cookie') ?? '')))`;
    const answer = spawnSync(process.execPath, ['-e', script], { uid: 65_534, gid: 65_534, env: {}, cwd: '/' });
    expect(answer.stdout.toString()).toBe('403');
  });

  it('is the page after the next start too', async () => {
    const cookie = (await fetch(`${address()}/`)).headers.get('set-cookie')!.split(';')[0]!;
    started.child.kill('SIGTERM');
    await started.exited;
    started = program.start();
    await program.serving();
    ended = false;
    expect((await fetch(`${address()}/api/state`, { headers: { Cookie: cookie } })).status).toBe(200);
  }, 60_000);
});

it('names that nobody can see are refused, and keep nobody from the others', async () => {
  const brief = { purpose: 'lesson', sessionMinutes: 30 };
  for (const name of ['\u0000x', 'a\u0000b', '\u0007', 'two\nlines'])
    for (const [path, body] of [
      ['/setups', { name, brief }],
      ['/drives', { name, folder: join(program.folder, 'd'), make: true }],
    ] as const)
      expect(await program.post(path, body)).toMatchObject({ status: 400 });
  await program.smallSetup();
  expect(setupListSchema.parse(await program.api('/setups'))).toHaveLength(1);
});
