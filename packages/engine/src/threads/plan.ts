import type { FateDecision } from '@mellow/core';
import { causes, fates, type Cause, type TakeOrder } from '@mellow/model';

/** What a simulated path decided for due n. */
export interface PlannedDue {
  decision: FateDecision;
  cause: Cause;
  slot: number | null;
}

export function plannedAt(plan: NonNullable<TakeOrder['plan']>, n: number): PlannedDue {
  const fate = fates[plan.fate[n] ?? 0] ?? 'pending';
  const cause = causes[plan.cause[n] ?? 0] ?? 'unknown';
  const decision: FateDecision =
    fate === 'new' || fate === 'repeat'
      ? { fate }
      : { fate: fate === 'encode-miss' || fate === 'write-miss' ? fate : 'capture-miss', cause };
  return { decision, cause, slot: plan.slot[n] ?? null };
}
