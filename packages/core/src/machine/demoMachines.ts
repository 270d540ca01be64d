import type { EncoderName, EncoderState, Figure, MachineSheet } from '@mellow/model';
import { encoders } from '@mellow/model';
import { encoderFacts } from '../codec';

/** Machines that ship as stand-ins for other PCs. They are invented: every figure of theirs is an assumption and is shown as simulated. */
const assumed = (value: number, wide: number): Figure => ({
  value,
  low: value / wide,
  high: value * wide,
  origin: 'assumed',
  from: 'a simulated machine',
});

function encodersOf(blocks: Partial<Record<EncoderName, number>>, why: string): EncoderState[] {
  return encoders.map((encoder): EncoderState => {
    const us = blocks[encoder];
    if (us !== undefined)
      return { encoder, works: true, reason: null, workUsPerMegapixel: assumed(us, 1.15), byEffort: {} };
    const software = encoderFacts[encoder].place === 'software';
    return { encoder, works: software, reason: software ? null : why, workUsPerMegapixel: null, byEffort: {} };
  });
}

export const kestrel: MachineSheet = {
  id: 'kestrel',
  name: 'Kestrel',
  demo: true,
  origin: 'simulated',
  cores: 8,
  processor: 'eight middling cores',
  memoryBytes: 32e9,
  system: 'simulated',
  coreSpeed: assumed(1.5, 1.1),
  graphics: { name: 'middling card, 8 GB, one encoder block', speed: assumed(1, 1.15) },
  displays: [
    { name: 'Left display', widthPx: 2560, heightPx: 1440, refreshHz: 120, hdr: false },
    { name: 'Right display', widthPx: 1920, heightPx: 1200, refreshHz: 60, hdr: false },
  ],
  encoders: encodersOf({ 'avc-card': 1500, 'hevc-card': 1900 }, 'the card answered: not offered; a newer card has it'),
  drives: [
    {
      id: 'kestrel-barn',
      name: 'Barn',
      kind: 'hard disk',
      writeBytesPerSecond: 70e6,
      freeBytes: 600e9,
      totalBytes: 2000e9,
    },
    {
      id: 'kestrel-attic',
      name: 'Attic',
      kind: 'solid state',
      writeBytesPerSecond: 412e6,
      freeBytes: 186e9,
      totalBytes: 500e9,
    },
    {
      id: 'kestrel-games',
      name: 'Games',
      kind: 'solid state',
      writeBytesPerSecond: 436e6,
      freeBytes: 121e9,
      totalBytes: 1000e9,
    },
  ],
  provenAt: null,
};

export const wren: MachineSheet = {
  id: 'wren',
  name: 'Wren',
  demo: true,
  origin: 'simulated',
  cores: 4,
  processor: 'four old laptop cores',
  memoryBytes: 8e9,
  system: 'simulated',
  coreSpeed: assumed(0.6, 1.1),
  graphics: { name: 'weak graphics, no encoder block', speed: assumed(0.4, 1.2) },
  displays: [{ name: 'Lid', widthPx: 1366, heightPx: 768, refreshHz: 60, hdr: false }],
  encoders: encodersOf({}, 'these graphics have no encoder block'),
  drives: [
    { id: 'wren-disk', name: 'Disk', kind: 'hard disk', writeBytesPerSecond: 50e6, freeBytes: 84e9, totalBytes: 500e9 },
  ],
  provenAt: null,
};

export const demoMachines: readonly MachineSheet[] = [kestrel, wren];
