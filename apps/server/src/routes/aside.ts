import type { Services } from '../services/services';

/** What is measured has the machine to itself: nothing is held meanwhile. */
export const aside = <T>(
  { recorder, hindsight }: Pick<Services, 'recorder' | 'hindsight'>,
  work: () => Promise<T>,
): Promise<T> =>
  recorder.beside(async () => {
    await hindsight.rest();
    try {
      return await work();
    } finally {
      hindsight.resume();
    }
  });
