import { createLedgerRingMemory, openLedgerRing, rowStates } from '../shared/ledgerRing';
import { createUnwritten } from './unwritten';

/** Ten frames a second, so that frame n is due at n tenths. */
function bench() {
  const ledger = openLedgerRing(createLedgerRingMemory());
  const bytes = { handedBytes: 0, drivenBytes: 0 };
  const packets = createUnwritten({ num: 10, den: 1 }, ledger, {
    figure: (name) => bytes[name as keyof typeof bytes] ?? 0,
  });
  return {
    bytes,
    ledger,
    oldest: packets.oldest,
    accept(n: number): void {
      ledger.open(n);
      ledger.setState(n, rowStates.accepted);
      packets.accepted(n);
    },
    leaveEncoder: (n: number, afterUs: number): void => ledger.set(n, 'encodeOut', afterUs),
  };
}

describe('packets that are not with the drive', () => {
  it('counts from when they left the encoder, and names who is behind', () => {
    const { bytes, ledger, oldest, accept, leaveEncoder } = bench();
    expect(oldest(5e6)).toEqual({ us: 0, waitsFor: 'pack' });
    for (const n of [0, 1, 2]) accept(n);
    // Inside the encoder it waits for others that come in: nobody is behind.
    expect(oldest(5e6).us).toBe(0);
    leaveEncoder(0, 50_000);
    expect(oldest(1_050_000)).toEqual({ us: 1e6, waitsFor: 'pack' });
    ledger.setState(0, rowStates.packed);
    // The container collects, and everybody has done what there was to do.
    expect(oldest(3_050_000).us).toBe(0);
    bytes.handedBytes = 10;
    expect(oldest(3_050_000)).toEqual({ us: 3e6, waitsFor: 'drive' });
    leaveEncoder(1, 0);
    expect(oldest(3_050_000)).toEqual({ us: 3e6, waitsFor: 'pack' });
    ledger.setState(0, rowStates.written);
    expect(oldest(3_050_000)).toEqual({ us: 2_950_000, waitsFor: 'pack' });
  });

  it('passes over what was lost, and goes on over many thousand frames', () => {
    const { ledger, oldest, accept, leaveEncoder } = bench();
    for (let n = 0; n < 5000; n++) {
      accept(n);
      if (n % 7 === 0) ledger.lose(n, 'encode-miss', 'encode-error', []);
      else {
        leaveEncoder(n, 0);
        if (n < 4999) ledger.setState(n, rowStates.written);
      }
      oldest(n * 1e5);
    }
    expect(oldest(4999 * 1e5 + 300_000)).toEqual({ us: 300_000, waitsFor: 'pack' });
  });
});
