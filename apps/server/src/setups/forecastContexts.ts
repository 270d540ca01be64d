import { calibrationOf, driveFactsOf, standInFacts, trialsOn, type ForecastContext } from '@mellow/core';
import type { MachineSheet, Setup, DriveFacts } from '@mellow/model';
import type { DriveService } from '../drives/drives';
import type { MachineService } from '../machine/machines';
import type { TakeService } from '../takes/takes';

export interface ForecastContexts {
  of(setup: Setup): Promise<ForecastContext>;
  drivesOf(machine: MachineSheet): Promise<DriveFacts[]>;
}

/** What a setup's forecast depends on, from what is stored: the same that the page puts together for itself. */
export function createForecastContexts(
  machines: MachineService,
  drives: DriveService,
  takes: TakeService,
): ForecastContexts {
  const drivesOf = async (machine: MachineSheet): Promise<DriveFacts[]> =>
    machine.origin === 'simulated' ? machine.drives.map(standInFacts) : (await drives.list(() => 0)).map(driveFactsOf);
  return {
    drivesOf,
    async of(setup) {
      const machine = await machines.get(setup.machineId);
      const trials = trialsOn(machine, await takes.list(setup.id));
      return {
        game: setup.game,
        brief: setup.brief,
        machine,
        drives: await drivesOf(machine),
        calibration: calibrationOf(trials),
        locks: setup.locks,
        start: setup.start,
      };
    },
  };
}
