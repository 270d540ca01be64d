import request from 'supertest';
import { encoders, machineSheetSchema, problemSchema } from '@mellow/model';
import { openTestServer, type TestServer } from '../test/support/testServer';

jest.setTimeout(240_000);

let server: TestServer;
beforeAll(async () => void (server = await openTestServer()));
afterAll(() => server.close());

const api = () => request(server.url);

it('proves every encoder of this PC by a test encode, with a reason for each that does not work', async () => {
  const sheet = machineSheetSchema.parse((await api().post('/api/machines/this/prove')).body);
  expect(sheet.encoders.map((e) => e.encoder).sort()).toEqual([...encoders].sort());
  for (const state of sheet.encoders) {
    expect(state.works ? state.workUsPerMegapixel?.origin : typeof state.reason).toBe(
      state.works ? 'measured' : 'string',
    );
    if (state.encoder.endsWith('software')) expect([state.encoder, state.works]).toEqual([state.encoder, true]);
  }
  expect(sheet.provenAt).not.toBeNull();
  expect(sheet.coreSpeed.origin).toBe('measured');
  expect(machineSheetSchema.parse((await api().get('/api/machines')).body[0]).encoders).toEqual(sheet.encoders);
});

it('and a recipe that cannot be made here says what settles it, and nothing rolls', async () => {
  const setup = await server.smallSetup((draft) => ({ ...draft, encode: { ...draft.encode, encoder: 'av1-card' } }));
  const refused = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
  expect([refused.status, problemSchema.parse(JSON.parse(refused.text)).type]).toEqual([409, '/problems/recipe-clash']);
  expect(server.services.live.state().recorder).toBe('idle');
});
