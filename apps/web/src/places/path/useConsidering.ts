import { quietReason, type SettingKey } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import { usePath } from './pathContext';

/** What a rail of one setting needs: its quiet reason, and what happens when a value is considered or chosen. */
export function useConsidering<T>(
  key: SettingKey,
  apply: (value: T) => Recipe,
): { quiet: string | undefined; onConsider: (value: T | null) => void; onChange: (value: T) => void } {
  const { recipe, setup, change, consider } = usePath();
  return {
    quiet: quietReason(key, recipe, setup.game) ?? undefined,
    onConsider: (value) => consider(key, value === null ? null : apply(value)),
    onChange: (value) => change(apply(value)),
  };
}
