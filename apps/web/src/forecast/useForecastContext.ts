import { useMemo } from 'react';
import { calibrationOf, driveFactsOf, forecastOf, standInFacts, trialsOn, type ForecastContext } from '@mellow/core';
import type { DriveState, MachineSheet, Setup, Take } from '@mellow/model';
import { useDrivesQuery, useMachinesQuery } from '../store/api';

/** What a setup's forecast depends on. @param trials of this setup */
export function contextOf(
  setup: Setup,
  trials: readonly Take[],
  machine: MachineSheet | null,
  drives: readonly DriveState[],
): ForecastContext {
  return {
    game: setup.game,
    brief: setup.brief,
    machine,
    locks: setup.locks,
    start: setup.start,
    drives: machine?.origin === 'simulated' ? machine.drives.map(standInFacts) : drives.map(driveFactsOf),
    calibration: calibrationOf(machine ? trialsOn(machine, trials) : trials),
  };
}

/** The same from what the server has; null until machines and drives are there. */
export function useForecastContext(setup: Setup, trials: readonly Take[]): ForecastContext | null {
  const { data: machines } = useMachinesQuery();
  const { data: drives } = useDrivesQuery();
  return useMemo(
    () =>
      machines && drives
        ? contextOf(setup, trials, machines.find((m) => m.id === setup.machineId) ?? null, drives)
        : null,
    [setup, trials, machines, drives],
  );
}

/** Bits a second of any setup's draft; null while machines and drives are being read. */
export function useHourlyBits(): (setup: Setup, trials: readonly Take[]) => number | null {
  const { data: machines } = useMachinesQuery();
  const { data: drives } = useDrivesQuery();
  return (setup, trials) =>
    machines && drives
      ? forecastOf(
          setup.draft,
          contextOf(setup, trials, machines.find((m) => m.id === setup.machineId) ?? null, drives),
        ).bits.value
      : null;
}
