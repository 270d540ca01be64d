import { createContext, useContext } from 'react';
import type { Advice, Forecast, ForecastContext, SettingKey } from '@mellow/core';
import type { DriveState, MachineSheet, Recipe, Setup, Take } from '@mellow/model';
import type { OutlookReply } from '../../forecast/messages';

/** A value that is looked at before it is chosen. */
export interface Considered {
  key: SettingKey;
  /** "18", "middle": the value in words. */
  words: string;
  recipe: Recipe;
}

/** All that the parts of Path share. */
export interface PathState {
  setup: Setup;
  recipe: Recipe;
  trials: Take[];
  /** Samples of this setup whose file could be read, newest first. */
  samples: Take[];
  drives: DriveState[];
  machines: MachineSheet[];
  machine: MachineSheet | null;
  context: ForecastContext;
  forecast: Forecast;
  advice: Advice[];
  /** The simulation's last answer; null before the first. */
  outlook: OutlookReply | null;
  /** Its answer is for what is shown now. */
  outlookIsCurrent: boolean;
  outlookProblem: string | null;
  /** The last judgement of a recipe, and whether it is of what is shown now; null before the first. */
  judgement: OutlookReply['judgement'];
  judgementIsCurrent: boolean;
  /** The last trial of this very recipe that has a verdict. */
  lastTrial: Take | null;
  considered: Considered | null;
  change: (recipe: Recipe) => void;
  consider: (key: SettingKey, recipe: Recipe | null) => void;
}

export const PathContext = createContext<PathState | null>(null);

export function usePath(): PathState {
  const state = useContext(PathContext);
  if (!state) throw new Error('A part of Path stands outside it.');
  return state;
}
