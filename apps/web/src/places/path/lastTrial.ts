import type { Judged, Recipe, Take } from '@mellow/model';

/** The last trial of this very recipe that has a verdict. @param trials newest first */
export const lastTrialOf = (recipe: Recipe, trials: readonly Take[]): Take | null =>
  trials.find((trial) => trial.verdict && JSON.stringify(trial.recipe) === JSON.stringify(recipe)) ?? null;

const nothing: readonly Judged[] = [];

/** What a trial found of its limits: a disturbed one tells of other programs, and one that failed of nothing. */
export const measuredIn = (trial: Take | null): readonly Judged[] =>
  trial?.verdict && trial.summary && !trial.summary.disturbed ? trial.verdict.limits : nothing;
