/** A resource that several jobs share at once: the processor with its cores, or the graphics engine. */
export interface SharedResource {
  /** Puts a job on it. @param work microseconds of one unit; Infinity never ends @param most units it can use at once */
  start(job: number, work: number, most: number, weight: number): void;
  stop(job: number): void;
  active(job: number): boolean;
  /** Microseconds until the next job is done, Infinity if none ever is. */
  untilNext(): number;
  /** The job that is done next; valid after `untilNext`. */
  nextJob(): number;
  advance(us: number): void;
  /** Unit-microseconds that a job has received so far. */
  received(job: number): number;
}

/**
 * Water-filling (docs/model.md, "Simulation"): each job gets min(its most, its weight x a common level), in all at most the capacity.
 * Processor sharing in the sense of Kleinrock, Queueing Systems II, where every job has the same weight and most = capacity.
 */
export function createSharedResource(capacity: number, jobs: number): SharedResource {
  const left = new Float64Array(jobs);
  const most = new Float64Array(jobs);
  const weight = new Float64Array(jobs);
  const rate = new Float64Array(jobs);
  const used = new Float64Array(jobs);
  const on = new Uint8Array(jobs);
  const filled = new Uint8Array(jobs);
  let stale = true;
  let next = -1;

  function share(): void {
    let room = capacity;
    let weights = 0;
    for (let j = 0; j < jobs; j++) {
      filled[j] = on[j] ? 0 : 1;
      rate[j] = 0;
      if (on[j]) weights += weight[j]!;
    }
    for (let again = true; again && weights > 0;) {
      again = false;
      const level = room / weights;
      for (let j = 0; j < jobs; j++) {
        if (filled[j] || most[j]! > weight[j]! * level) continue;
        rate[j] = most[j]!;
        room -= most[j]!;
        weights -= weight[j]!;
        filled[j] = 1;
        again = true;
      }
    }
    if (weights > 1e-12) {
      const level = room / weights;
      for (let j = 0; j < jobs; j++) if (!filled[j]) rate[j] = weight[j]! * level;
    }
    stale = false;
  }

  return {
    start(job, work, parallel, w) {
      left[job] = work;
      most[job] = parallel;
      weight[job] = w;
      on[job] = 1;
      stale = true;
    },
    stop(job) {
      on[job] = 0;
      stale = true;
    },
    active: (job) => on[job] === 1,
    untilNext() {
      if (stale) share();
      let soonest = Infinity;
      next = -1;
      for (let j = 0; j < jobs; j++) {
        if (!on[j] || rate[j]! <= 0) continue;
        const us = left[j]! / rate[j]!;
        if (us < soonest) {
          soonest = us;
          next = j;
        }
      }
      return soonest;
    },
    nextJob: () => next,
    advance(us) {
      if (stale) share();
      for (let j = 0; j < jobs; j++) {
        if (!on[j]) continue;
        const done = rate[j]! * us;
        left[j] = left[j]! - done;
        used[j] = used[j]! + done;
      }
    },
    received: (job) => used[job]!,
  };
}
