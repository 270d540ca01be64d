import os from 'node:os';
import type { Machine } from '@mellow/model';

/** The clock a processor is sold with, else the one it has now; virtual machines tell the latter as 0. */
export function clockOf(cpu: { model: string; speed: number } | undefined): string {
  const named = /([\d.]+) ?GHz/.exec(cpu?.model ?? '')?.[1];
  const clockGhz = named ? Number(named) : (cpu?.speed ?? 0) / 1000;
  return clockGhz > 0 ? `${clockGhz.toFixed(1)} GHz` : 'clock unknown';
}

/** What the system tells of this PC without being measured. */
export function thisMachine(): Machine {
  const cpus = os.cpus();
  // Demo and pictures go to other people: they say what the PC can do, not whose make it is.
  const plain = process.env['MELLOW_PLAIN_MACHINE'] === '1';
  return {
    name: 'this PC',
    cores: os.availableParallelism(),
    processor: plain ? clockOf(cpus[0]) : (cpus[0]?.model.trim() ?? 'unknown processor'),
    memoryBytes: os.totalmem(),
    system: plain ? os.type() : `${os.type()} ${os.release()}`,
    origin: 'measured',
  };
}
