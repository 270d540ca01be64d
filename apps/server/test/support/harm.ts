import type { LiveState, Take } from '@mellow/model';
import type { TestServer } from './testServer';

/** Frames that have settled, so that whole seconds are on the drive. */
export const rolledFor = (seconds: number) => (state: LiveState) =>
  (state.take?.elapsedUs ?? 0) >= seconds * 1e6 && (state.take?.fates.new ?? 0) > 30;

/** Begins a long trial, waits until it rolls for a while, does the harm, and gives back what became of the take. */
export async function harm(server: TestServer, setupId: string, act: () => void, seconds = 2.5): Promise<Take> {
  const take = await server.services.recorder.startTrial(setupId, 60);
  await server.untilLive(rolledFor(seconds));
  act();
  return server.untilEnded(take.id);
}

export async function expectNextTrialWorks(server: TestServer, setupId: string): Promise<void> {
  const next = await server.services.recorder.startTrial(setupId, 2);
  expect(await server.untilEnded(next.id)).toMatchObject({ state: 'closed', end: 'length' });
}
