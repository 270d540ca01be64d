import os from 'node:os';
import type { Machine } from '@mellow/model';

/** What the system tells of this PC without being measured. */
export function thisMachine(): Machine {
  const cpus = os.cpus();
  // Demo and pictures go to other people: they say what the PC can do, not whose make it is.
  const plain = process.env['MELLOW_PLAIN_MACHINE'] === '1';
  return {
    name: 'this PC',
    cores: os.availableParallelism(),
    processor: plain
      ? `${((cpus[0]?.speed ?? 0) / 1000).toFixed(1)} GHz`
      : (cpus[0]?.model.trim() ?? 'unknown processor'),
    memoryBytes: os.totalmem(),
    system: plain ? os.type() : `${os.type()} ${os.release()}`,
    origin: 'measured',
  };
}
