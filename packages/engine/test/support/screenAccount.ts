import type { MadeTake } from './drivenTake';
import { readStripsOf } from './probe';
import { fatesOf, small } from './screenTake';

/** Rows that stand in the file, each with the number its picture carries. */
export function filedOf(take: MadeTake, game = small) {
  const strips = readStripsOf(take.result.filePath, take.order.recipe.size, game);
  const rows = fatesOf(take).flatMap((fate, n) => (fate === 'new' || fate === 'repeat' ? [{ n, fate }] : []));
  expect(strips).toHaveLength(rows.length);
  return rows.map(({ n, fate }, i) => ({
    fate,
    source: take.columns.sourceFrame[n] ?? -1,
    number: strips[i]?.strip?.number ?? null,
  }));
}

/** Every picture is whole and is the one that the ledger names; nothing the game showed is counted twice or forgotten. */
export function expectAccounted(take: MadeTake, shown: ReadonlySet<number>, game = small): void {
  const { summary, presented, passedOver, notReached } = take.result;
  expect(take.log.filter((line) => !line.startsWith('Encoder'))).toEqual([]);
  const filed = filedOf(take, game);
  expect(filed.length).toBeGreaterThan(10);
  const numberOf = new Map<number, number>();
  let last = -1;
  for (const { fate, source, number } of filed) {
    expect(number).not.toBeNull();
    expect(shown.has(number ?? -1)).toBe(true);
    // One picture of the source has one number, and a newer picture a higher one.
    expect(numberOf.get(source) ?? number).toBe(number);
    if (fate === 'new') expect(number).toBeGreaterThan(last);
    else expect(number).toBe(last);
    numberOf.set(source, number ?? -1);
    last = number ?? -1;
  }
  expect(presented).toBe((summary.fates.new ?? 0) + (passedOver ?? 0) + (notReached ?? 0));
  expect(summary.due).toBe(Object.values(summary.fates).reduce((sum, count) => sum + count, 0));
}
