import { openProgram, type Program } from '../test/support/program';
import { takeSchema } from '@mellow/model';

jest.setTimeout(240_000);

let program: Program;
beforeAll(async () => void (program = await openProgram()));
afterAll(() => program.close());

/** How long nothing of the program gets the processor. */
const asleepMs = 12_000;

it('a PC that sleeps costs no frame and no minute of the file: the take goes on, and says so', async () => {
  const { child } = program.start();
  await program.serving();
  const setup = await program.smallSetup();
  const { id } = takeSchema.parse(await program.post(`/setups/${setup.id}/trials`, { kind: 'full', lengthS: null }));
  const before = await program.live(({ take }) => (take?.elapsedUs ?? 0) > 3e6);
  const pids = [program.recorderOf(id), child.pid ?? 0];
  for (const pid of pids) process.kill(pid, 'SIGSTOP');
  await new Promise((resolve) => setTimeout(resolve, asleepMs));
  for (const pid of pids.reverse()) process.kill(pid, 'SIGCONT');
  await program.live(({ take }) => (take?.cuts.length ?? 0) > 0);
  await program.live(({ take }) => (take?.elapsedUs ?? 0) > (before.take?.elapsedUs ?? 0) + 3e6);
  await program.post('/recorder/stop');
  await program.idle();
  const take = await program.take(id);
  // Nobody took it for dead.
  expect(take).toMatchObject({ state: 'closed', end: 'stopped', tailFrames: 0 });
  expect(take.cuts).toEqual([{ why: 'asleep', atUs: expect.any(Number), leftOutUs: expect.any(Number) }]);
  const [cut] = take.cuts;
  expect(Math.abs((cut?.leftOutUs ?? 0) / 1000 - asleepMs)).toBeLessThan(2000);
  expect((take.facts?.picture.endUs ?? 0) / 1e6).toBeLessThan(asleepMs / 1000);
  expect(take.summary?.filed).toBe(take.facts?.picture.packets);
  // Nothing was due meanwhile.
  expect(take.summary?.due).toBeLessThan((asleepMs / 1000) * 30);
  expect(take.verdict?.findings.map(({ title }) => title)).toContainEqual(
    expect.stringMatching(/^Nothing ran for 0:00:1/),
  );
  expect(take.sounds.every(({ away }) => away === 0)).toBe(true);
});
