import { ownThreadId } from './threadPort';
import { systemFacts } from '../system/systemFacts';

const { machineBusyS, threadTimes } = systemFacts;
const ownProcessS = (): number => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
};

/** Uses the processor until this process has used so much more. */
function burn(seconds: number): void {
  const until = ownProcessS() + seconds;
  while (ownProcessS() < until) Math.sqrt(Math.random());
}

describe('processor times (Linux /proc)', () => {
  it('of this thread grow with its work, and never beyond that of the process', () => {
    const id = ownThreadId();
    expect(id).not.toBeNull();
    const before = threadTimes([id ?? 0]);
    const ownBefore = ownProcessS();
    burn(0.3);
    const used = (threadTimes([id ?? 0])?.runS ?? 0) - (before?.runS ?? 0);
    expect(used).toBeGreaterThan(0.1);
    expect(used).toBeLessThanOrEqual(ownProcessS() - ownBefore + 0.05);
  });
  it('of the machine hold those of this process', () => {
    const machine = machineBusyS() ?? 0;
    burn(0.3);
    expect((machineBusyS() ?? 0) - machine).toBeGreaterThan(0.1);
  });
  it('are not known of a thread that is gone, nor of none', () => {
    expect(threadTimes([999_999_999])).toBeNull();
    expect(threadTimes([])).toBeNull();
  });
});
