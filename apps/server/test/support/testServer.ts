import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { plainPracticeGame } from '@mellow/core';
import { briefSchema, endedStates, type LiveState, type Recipe, type Setup, type Take } from '@mellow/model';
import { createApp } from '../../src/http/app';
import { takePageSounds } from '../../src/http/pageSocket';
import { openServices, type ServiceOptions, type Services } from '../../src/services/services';

export interface TestServer {
  services: Services;
  url: string;
  folder: string;
  /** A setup of small pictures without strip; `recipe` changes its draft. */
  smallSetup(recipe?: (draft: Recipe) => Recipe): Promise<Setup>;
  untilLive(wanted: (state: LiveState) => boolean): Promise<LiveState>;
  untilEnded(takeId: string): Promise<Take>;
  /** A full take that was cut off is followed by another one: ends that, and waits until the first was looked after. */
  untilLookedAfter(takeId: string): Promise<Take>;
  close(): Promise<void>;
}

export async function openTestServer(options: Partial<ServiceOptions> = {}): Promise<TestServer> {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-server-'));
  // Only what is held to this PC's own clock needs it: the practice game is the same game without.
  const services = await openServices({
    dataFolder: folder,
    trialClock: 'driven',
    warmUpS: 0.5,
    baselineS: 0,
    pairs: 1,
    ...options,
  });
  const server = await new Promise<Server>((resolve) => {
    const started = createApp(services, join(folder, 'no-pages')).listen(0, '127.0.0.1', () => resolve(started));
    takePageSounds(started, services.sounds.pages, null, services.log);
  });
  const untilLive = (wanted: (state: LiveState) => boolean) =>
    new Promise<LiveState>((resolve) => {
      if (wanted(services.live.state())) return resolve(services.live.state());
      const stop = services.live.listen((state) => {
        if (!wanted(state)) return;
        stop();
        resolve(state);
      });
    });
  const untilEnded = async (takeId: string): Promise<Take> => {
    await untilLive((state) => state.recorder === 'idle');
    const take = await services.takes.get(takeId);
    if (!endedStates.includes(take.state)) throw new Error(`the recorder is idle, and the take is ${take.state}`);
    return take;
  };
  return {
    services,
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    folder,
    async smallSetup(recipe = (draft) => draft) {
      const setup = await services.setups.create({
        name: 'Small',
        brief: briefSchema.parse({ purpose: 'long-play', sessionMinutes: 30 }),
        game: { ...plainPracticeGame, widthPx: 320, heightPx: 180, capFps: 60 },
      });
      const draft = { ...setup.draft, rate: { num: 30, den: 1 }, lanes: setup.draft.lanes.slice(0, 1) };
      return services.setups.setDraft(setup.id, recipe(draft));
    },
    untilLive,
    untilEnded,
    async untilLookedAfter(takeId) {
      const { take: next } = await untilLive((now) => now.recorder === 'rolling' && now.take?.takeId !== takeId);
      services.recorder.stop();
      await untilEnded(next!.takeId);
      while ((await services.takes.get(takeId)).state === 'waiting')
        await new Promise((resolve) => setTimeout(resolve, 50));
      return untilEnded(takeId);
    },
    async close() {
      services.screens.close();
      services.sounds.close();
      services.rollSoon.close();
      services.withGame.close();
      services.discards.close();
      services.keys.close();
      await services.hindsight.shutDown();
      await services.recorder.shutDown();
      await new Promise((resolve) => server.close(resolve));
      await services.store.close();
      if (existsSync(folder)) rmSync(folder, { recursive: true, force: true });
    },
  };
}
