/** At most 256 values, evenly spread over however many came: when full, every second one is given up. */
export function createEvenSamples(most = 256): { add(value: number): void; values(): number[] } {
  let kept: number[] = [];
  let every = 1;
  let seen = 0;
  return {
    add(value) {
      if (seen++ % every === 0) kept.push(value);
      if (kept.length <= most) return;
      kept = kept.filter((_, i) => i % 2 === 0);
      every *= 2;
    },
    values: () => kept.slice(0, most),
  };
}
