import os from 'node:os';
import type { Machine } from '@mellow/model';

/** What the system tells of this PC without being measured. */
export function thisMachine(): Machine {
  const cpus = os.cpus();
  return {
    name: 'this PC',
    cores: os.availableParallelism(),
    processor: cpus[0]?.model.trim() ?? 'unknown processor',
    memoryBytes: os.totalmem(),
    system: `${os.type()} ${os.release()}`,
    origin: 'measured',
  };
}
