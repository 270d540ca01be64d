import { isOwnUser, peerUser } from './peerUser';

// As proc(5) shows it: a listener, and the two ends of one connection from port 40000 (9C40) to 4870 (1306).
const table = `  sl  local_address rem_address   st tx_queue rx_queue tr tm->when retrnsmt   uid  timeout inode
   0: 0100007F:1306 00000000:0000 0A 00000000:00000000 00:00000000 00000000  1000        0 31337 1 0000000000000000 100 0 0 10 0
   1: 0100007F:1306 0100007F:9C40 01 00000000:00000000 00:00000000 00000000  1000        0 31338 1 0000000000000000 20 4 30 10 -1
   2: 0100007F:9C40 0100007F:1306 01 00000000:00000000 00:00000000 00000000  1001        0 31339 1 0000000000000000 20 4 30 10 -1
   3: 0A00000A:9C40 0100007F:1306 01 00000000:00000000 00:00000000 00000000  1002        0 31340 1 0000000000000000 20 4 30 10 -1
`;

it('finds whose program stands at the other end, not whose the server is', () =>
  expect(peerUser({ remotePort: 40_000, localPort: 4870 }, () => table)).toBe(1001));
it.each([
  ['a connection that is not listed', { remotePort: 40_001, localPort: 4870 }],
  ['a socket that is closed', { remotePort: undefined, localPort: 4870 }],
])('does not know %s', (_, socket) => expect(peerUser(socket, () => table)).toBeNull());
it('does not know where the system tells nothing', () =>
  expect(
    peerUser({ remotePort: 40_000, localPort: 4870 }, () => {
      throw new Error('no such file');
    }),
  ).toBeNull());
it('takes the own user, the administrator, and whoever is not known', () => {
  const own = process.getuid?.() ?? 0;
  expect([own, 0, null, own + 12_345].map(isOwnUser)).toEqual([true, true, true, false]);
});
