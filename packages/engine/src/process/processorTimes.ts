import { readFileSync } from 'node:fs';

/** Processor time of threads, of this process and of the whole machine, from /proc; null where a system has none. */

export interface ThreadTimes {
  /** On a processor, seconds. */
  runS: number;
  /** Ready to run and waiting for one, seconds. */
  waitS: number;
}

/** Sum over threads of this process (schedstat: nanoseconds run, nanoseconds waited). */
export function threadTimes(ids: readonly number[]): ThreadTimes | null {
  if (!ids.length) return null;
  let runS = 0;
  let waitS = 0;
  for (const id of ids) {
    try {
      const [run, wait] = readFileSync(`/proc/self/task/${id}/schedstat`, 'utf8').split(' ').map(Number);
      runS += (run ?? 0) / 1e9;
      waitS += (wait ?? 0) / 1e9;
    } catch {
      return null;
    }
  }
  return { runS, waitS };
}

/** Seconds all processors were busy, or taken away by the host of a virtual machine, since the start; ticks are hundredths. */
export function machineBusyS(): number | null {
  try {
    const [user, nice, system, , , irq, softirq, stolen] = readFileSync('/proc/stat', 'utf8')
      .split('\n')[0]!
      .trim()
      .split(/\s+/)
      .slice(1)
      .map(Number);
    return ((user ?? 0) + (nice ?? 0) + (system ?? 0) + (irq ?? 0) + (softirq ?? 0) + (stolen ?? 0)) / 100;
  } catch {
    return null;
  }
}

/** Seconds of processor this process has used. */
export function ownProcessS(): number {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
}

/** Microseconds in which some task waited for a processor (Linux pressure), null where it is not told. */
export function pressureUs(): number | null {
  try {
    const some = /some .*total=(\d+)/.exec(readFileSync('/proc/pressure/cpu', 'utf8'));
    return some ? Number(some[1]) : null;
  } catch {
    return null;
  }
}
