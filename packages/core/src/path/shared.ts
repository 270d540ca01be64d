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
  /** Jobs that are on, in the order of their numbers: most are not, most of the time. */
  const active = new Uint8Array(jobs);
  let count = 0;
  /** Rates hold until a job comes or goes; what they did since is settled only then. */
  let stale = true;
  let unsettledUs = 0;
  let soonest = Infinity;
  let next = -1;

  function settle(): void {
    if (unsettledUs > 0)
      for (let i = 0; i < count; i++) {
        const j = active[i]!;
        const done = rate[j]! * unsettledUs;
        left[j] = left[j]! - done;
        used[j] = used[j]! + done;
      }
    soonest -= unsettledUs;
    unsettledUs = 0;
  }

  function share(): void {
    let wanted = 0;
    for (let i = 0; i < count; i++) wanted += most[active[i]!]!;
    if (wanted <= capacity) for (let i = 0; i < count; i++) rate[active[i]!] = most[active[i]!]!;
    else fill();
    soonest = Infinity;
    next = -1;
    for (let i = 0; i < count; i++) {
      const j = active[i]!;
      const us = rate[j]! > 0 ? left[j]! / rate[j]! : Infinity;
      if (us < soonest) {
        soonest = us;
        next = j;
      }
    }
    stale = false;
  }

  /** There is less than all want. */
  function fill(): void {
    let room = capacity;
    let weights = 0;
    for (let i = 0; i < count; i++) {
      const j = active[i]!;
      filled[j] = 0;
      weights += weight[j]!;
    }
    for (let again = true; again && weights > 0;) {
      again = false;
      const level = room / weights;
      for (let i = 0; i < count; i++) {
        const j = active[i]!;
        if (filled[j] || most[j]! > weight[j]! * level) continue;
        rate[j] = most[j]!;
        room -= most[j]!;
        weights -= weight[j]!;
        filled[j] = 1;
        again = true;
      }
    }
    const level = weights > 1e-12 ? room / weights : 0;
    for (let i = 0; i < count; i++) {
      const j = active[i]!;
      if (!filled[j]) rate[j] = weight[j]! * level;
    }
  }

  function putOn(job: number): void {
    on[job] = 1;
    let i = count++;
    for (; i > 0 && active[i - 1]! > job; i--) active[i] = active[i - 1]!;
    active[i] = job;
  }

  function takeOff(job: number): void {
    on[job] = 0;
    count--;
    for (let i = 0, to = 0; i <= count; i++) if (active[i] !== job) active[to++] = active[i]!;
  }

  return {
    start(job, work, parallel, w) {
      settle();
      left[job] = work;
      most[job] = parallel;
      weight[job] = w;
      if (!on[job]) putOn(job);
      stale = true;
    },
    stop(job) {
      settle();
      if (on[job]) takeOff(job);
      stale = true;
    },
    active: (job) => on[job] === 1,
    untilNext() {
      if (stale) share();
      return soonest - unsettledUs;
    },
    nextJob: () => next,
    advance(us) {
      if (stale) share();
      unsettledUs += us;
    },
    received(job) {
      settle();
      return used[job]!;
    },
  };
}
