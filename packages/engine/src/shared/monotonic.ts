/** Microseconds of the monotonic clock that all threads of the machine share. */
export function nowUs(): number {
  return Number(process.hrtime.bigint() / 1000n);
}

const sleeper = new Int32Array(new SharedArrayBuffer(4));

/** Sleeps without spinning; fractions of a millisecond count. */
export function sleepUs(us: number): void {
  if (us > 0) Atomics.wait(sleeper, 0, 0, us / 1000);
}
