import { execFile } from 'node:child_process';
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { accessSchema, liveStateSchema, markSchema, takeListSchema, takeSchema } from '@mellow/model';
import { openProgram, type Program, type Started } from './support/program';

/** The command line as a shell runs it, against the real program. */
interface Ran {
  code: number;
  out: string;
  err: string;
}
const bin = join(process.cwd(), 'node_modules/.bin/mellow');
const mellow = (data: string, ...args: string[]): Promise<Ran> =>
  new Promise((resolve) =>
    execFile(process.execPath, [bin, ...args], { env: { ...process.env, MELLOW_DATA: data } }, (error, out, err) =>
      resolve({ code: error ? Number(error.code ?? 1) : 0, out: out.trim(), err: err.trim() }),
    ),
  );

let program: Program;
let started: Started;
beforeAll(async () => {
  program = await openProgram();
  started = program.start();
  await program.serving();
}, 60_000);
afterAll(() => program.close());

it('rolls, marks, keeps, stops and lists, for people and as JSON', async () => {
  const run = (...args: string[]) => mellow(program.folder, ...args);
  expect(await run('status')).toMatchObject({ code: 0, out: 'idle' });
  const setup = await program.smallSetup(undefined, 'Evening');
  await program.api(`/setups/${setup.id}`, { method: 'PATCH', body: JSON.stringify({ hindsight: { lengthS: 20 } }) });
  expect((await run('mark', 'too early')).err).toMatch(/^Nothing is rolling\./);
  const begun = await run('roll', 'evening', '--json');
  const { id } = takeSchema.parse(JSON.parse(begun.out));
  expect((await run('roll', 'evening')).err).toMatch(/^A take is rolling\./);
  await program.live(({ take }) => (take?.held?.heldS ?? 0) > 2.5);
  expect((await run('status')).out).toMatch(/^rolling: 0:00:\d\d, /);
  const mark = markSchema.parse(JSON.parse((await run('mark', 'the gate', '--json')).out));
  expect(mark.note).toBe('the gate');
  expect((await run('pause')).code).toBe(0);
  await program.live(({ take }) => (take?.pausedS ?? 0) > 0);
  expect((await run('status')).out).toMatch(/^paused for 0:00/);
  expect((await run('go-on')).code).toBe(0);
  await program.live(({ take }) => take?.pausedS === null);
  expect((await run('keep', '2s')).out).toMatch(/^the last [2-4] s are kept: /);
  expect((await run('stop')).code).toBe(0);
  await program.idle();
  const take = await program.take(id);
  expect(take).toMatchObject({ state: 'closed', kind: 'full' });
  expect(take.marks.map(({ note }) => note)).toEqual(['the gate', expect.stringMatching(/kept$/)]);
  const listed = takeListSchema.parse(JSON.parse((await run('takes', '--json')).out));
  expect(listed.map(({ kind }) => kind).sort()).toEqual(['clip', 'full']);
  expect((await run('takes')).out.split('\n')).toHaveLength(2);
  expect(liveStateSchema.parse(JSON.parse((await run('status', '--json')).out)).recorder).toBe('idle');
}, 120_000);

it('says in its exit code whether it was refused, not understood, or nobody answered', async () => {
  const run = (...args: string[]) => mellow(program.folder, ...args);
  expect((await run('--help')).out).toContain('mellow COMMAND');
  const codes = await Promise.all([
    run(),
    run('rol'),
    run('roll', 'a', 'b'),
    run('roll', '--wrong'),
    run('keep', 'three'),
    run('roll', 'no such setup'),
    run('stop'),
    mellow(join(program.folder, 'nowhere'), 'status'),
  ]);
  expect(codes.map(({ code }) => code)).toEqual([2, 2, 2, 2, 2, 2, 1, 3]);
  expect(codes[7]?.err).toContain('does not run');
}, 60_000);

it('knows itself by a token for this run, which its owner only can read, and which is gone with it', async () => {
  const file = join(program.folder, 'access.json');
  const { url, token } = accessSchema.parse(JSON.parse(readFileSync(file, 'utf8')));
  if (process.platform !== 'win32') expect(statSync(file).mode & 0o077).toBe(0);
  const post = (headers: Record<string, string>) => fetch(`${url}/api/recorder/stop`, { method: 'POST', headers });
  expect((await post({})).status).toBe(401);
  expect((await post({ Authorization: 'Bearer wrong' })).status).toBe(401);
  expect((await post({ Authorization: `Bearer ${token}x` })).status).toBe(401);
  expect((await post({ Authorization: `Bearer ${token}`, Origin: 'https://elsewhere.test' })).status).toBe(403);
  // Known, and refused for another reason.
  expect((await post({ Authorization: `Bearer ${token}` })).status).toBe(409);
  expect((await fetch(`${url}/api/state`)).status).toBe(401);
  expect((await fetch(`${url}/api/state`, { headers: { Authorization: `Bearer ${token}` } })).status).toBe(200);
  started.child.kill('SIGKILL');
  await started.exited;
  const { child, exited } = program.start();
  await program.serving();
  expect(accessSchema.parse(JSON.parse(readFileSync(file, 'utf8'))).token).not.toBe(token);
  child.kill('SIGTERM');
  await exited;
  expect(existsSync(file)).toBe(false);
  expect((await mellow(program.folder, 'status')).code).toBe(3);
}, 90_000);
