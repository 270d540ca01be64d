import { connect, type Socket } from 'node:net';
import * as fc from 'fast-check';
import { openProgram, type Program, type Started } from './support/program';

/**
 * Connections with strange paths, headers, frames and resets, several at once: each is answered or closed, and the program serves on.
 * FUZZ_SOCKETS says how many, npm run fuzz opens 5 000.
 */
const openings = Number(process.env['FUZZ_SOCKETS'] ?? 1000);
const seed = Number(process.env['FUZZ_SEED'] ?? 20_261_126);
const atOnce = 10;

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

type Ending = 'end' | 'reset' | 'wait' | 'reset at once';
interface Opening {
  method: string;
  path: string;
  host: string;
  headers: string[];
  after: string;
  ending: Ending;
  /** The page's cookie comes with it, so that what lies behind the door is reached, too. */
  known: boolean;
}
const anyText = fc.string({ unit: 'binary', maxLength: 200 });
const anyPath = fc.oneof(
  fc.constantFrom(
    '/',
    '//',
    '///',
    '/\\',
    '*',
    '/%',
    '/%00',
    '/api/live',
    '/api/sounds/page',
    '/api/state',
    '/../..',
    '//a@b',
  ),
  fc.constantFrom(
    '/api/sounds/page?a',
    '/api/sounds/page#',
    '/api/sounds/page/',
    'http://127.0.0.1/api/sounds/page',
    '?',
  ),
  anyText,
  anyText.map((text) => `/${encodeURIComponent(Buffer.from(text).toString('utf8'))}`),
);
const upgradeHeaders = [
  'Connection: Upgrade',
  'Upgrade: websocket',
  'Sec-WebSocket-Version: 13',
  'Sec-WebSocket-Key: AAAAAAAAAAAAAAAAAAAAAA==',
];
const anyHeaders = fc.array(
  fc.oneof(
    fc.constantFrom(
      ...upgradeHeaders,
      'Upgrade: h2c',
      'Connection: close, Upgrade',
      'Sec-WebSocket-Version: 99',
      'Sec-WebSocket-Key: x',
      'Sec-WebSocket-Extensions: permessage-deflate; client_max_window_bits=999',
      'Sec-WebSocket-Protocol: ,,,',
      'Transfer-Encoding: chunked',
      'Content-Length: 999999999999',
      'Content-Length: -1',
      'Expect: 100-continue',
      'Origin: null',
      'Origin: http://',
      'Origin: ://',
      'Cookie: =;;=',
      'Authorization: Bearer',
      'Range: bytes=-1-,5',
    ),
    fc.tuple(anyText, anyText).map(([name, value]) => `${name}: ${value}`),
  ),
  { maxLength: 12, size: 'max' },
);
const anyOpening: fc.Arbitrary<Opening> = fc.record({
  method: fc.constantFrom('GET', 'GET', 'GET', 'POST', 'PUT', 'OPTIONS', 'CONNECT', 'TRACE', 'x', ''),
  path: anyPath,
  host: fc.constantFrom('right', 'right', 'right', 'none', 'twice', 'elsewhere.test', '[::1]:1', ':'),
  headers: fc.oneof(
    anyHeaders,
    anyHeaders.map((others) => [...upgradeHeaders, ...others]),
    fc.constant(upgradeHeaders),
  ),
  // Frames of a socket: RFC 6455, 5.2. Lengths that lie, unmasked ones, closings with a wrong reason, whatever else.
  after: fc.oneof(
    fc.constant(''),
    anyText,
    fc.constantFrom(
      '\x81\xff\xff\xff\xff\xff\xff\xff\xff\xff',
      '\x88\x02\x00\x00',
      '\x81\x05hello',
      '\x8f\x80\x00\x00\x00\x00',
      '\x01\x80\x00\x00\x00\x00',
      '0\r\n\r\n',
      'zz\r\n',
    ),
  ),
  ending: fc.constantFrom<Ending>('end', 'reset', 'wait', 'reset at once'),
  known: fc.boolean(),
});

/** Opens one, and waits until it is closed by whom ever. A head that is not whole is waited for by right, so it is let go.
 * @returns the status of its answer, 0 if none came */
function open({ method, path, host, headers, after, ending, known }: Opening, cookie: string): Promise<number> {
  const own = `127.0.0.1:${program.port}`;
  const hosts = { right: [own], none: [], twice: [own, own] }[host] ?? [host];
  const lines = [
    `${method} ${path} HTTP/1.1`,
    ...hosts.map((name) => `Host: ${name}`),
    ...headers,
    ...(known ? [`Cookie: ${cookie}`, `Origin: http://${own}`] : []),
  ];
  const head = Buffer.from(`${lines.join('\r\n')}\r\n\r\n`, 'latin1');
  return new Promise((resolve) => {
    const socket: Socket = connect(program.port, '127.0.0.1', () => {
      socket.write(head);
      if (ending === 'reset at once') return void socket.resetAndDestroy();
      socket.write(Buffer.from(after, 'latin1'));
      if (ending === 'end') socket.end();
      if (ending === 'reset') setImmediate(() => socket.resetAndDestroy());
    });
    let status = 0;
    // A stream of events or an open socket never ends by itself.
    socket.on('data', (chunk: Buffer) => {
      status ||= Number(/^HTTP\/1\.1 (\d+)/.exec(chunk.toString('latin1'))?.[1]);
      if (ending === 'wait') socket.end('more');
    });
    socket.on('error', () => {});
    socket.setTimeout(1000, () => socket.destroy());
    socket.on('close', () => resolve(status));
  });
}

it(`${openings} strange connections: the program answers and serves on`, async () => {
  const answers = new Map<number, number>();
  const cookie = (await fetch(`http://127.0.0.1:${program.port}/`)).headers.get('set-cookie')!.split(';')[0]!;
  await fc.assert(
    fc.asyncProperty(fc.array(anyOpening, { minLength: atOnce, maxLength: atOnce, size: 'max' }), async (many) => {
      for (const status of await Promise.all(many.map((one) => open(one, cookie))))
        answers.set(status, (answers.get(status) ?? 0) + 1);
      if (ended) throw new Error('The program ended.');
      const state = (await program.serving()) as { recorder: string };
      if (state.recorder !== 'idle') throw new Error(`The recorder is ${state.recorder}.`);
    }),
    { numRuns: Math.ceil(openings / atOnce), seed, endOnFailure: true },
  );
  // Some came as far as they can, some were turned away at each door.
  for (const status of [101, 200, 400, 401, 403]) expect([status, answers.get(status) ?? 0]).not.toEqual([status, 0]);
  for (const status of answers.keys()) expect(status).toBeLessThan(500);
  expect(ended).toBe(false);
}, 3_600_000);
