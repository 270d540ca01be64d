import { readdirSync, readFileSync } from 'node:fs';
import { priorities } from '@mellow/model';
import { openTakeBench, type TakeBench } from './support/drivenTake';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

/** Nice values of all threads of a process (Linux, proc(5): the 19th field of stat). */
const nices = (pid: number): number[] =>
  readdirSync(`/proc/${pid}/task`).flatMap((task) => {
    try {
      const stat = readFileSync(`/proc/${pid}/task/${task}/stat`, 'utf8');
      return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[16]);
    } catch {
      return [];
    }
  });

describe('the encoder’s priority', () => {
  // As root, as the tests run here, the system refuses nothing.
  it.each(priorities)(
    '%s the game is that of its threads while a take rolls, and of none afterwards',
    async (priority) => {
      const pid = bench.recorder().pid;
      const seen = new Set<number>();
      const stop = bench.recorder().onEvent((event) => {
        if (event.type === 'live' && event.live.state === 'rolling') for (const nice of nices(pid)) seen.add(nice);
      });
      const take = await bench.make({
        recipe: { priority, lanes: [] },
        encode: { encoder: 'avc-software', threads: 2 },
        order: { clock: 'real', dueFrames: 60 },
      });
      stop();
      expect(take.result.end).toBe('length');
      const wanted = { above: -5, usual: 0, below: 10 }[priority];
      expect(seen.has(wanted)).toBe(true);
      expect([-5, 10].filter((nice) => nice !== wanted && seen.has(nice))).toEqual([]);
      expect(nices(pid).filter((nice) => nice === -5 || nice === 10)).toEqual([]);
    },
  );
});
