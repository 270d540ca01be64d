import { nanoid } from 'nanoid';
import { mostMarks, type Mark, type Take } from '@mellow/model';
import { problem } from '../errors/problem';
import type { RecorderService } from '../recorder/recorderService';
import type { TakeService } from '../takes/takes';

/** Moments of a take that somebody wants to find again: set while it rolls, named and taken away at any time. */
export interface MarkService {
  /** At this very moment of the rolling take. @throws a problem where nothing rolls */
  add(note: string): Promise<Mark>;
  name(takeId: string, markId: string, note: string): Promise<Take>;
  remove(takeId: string, markId: string): Promise<Take>;
}

export function createMarkService(takes: TakeService, recorder: RecorderService): MarkService {
  /** Marks stand with the take in the database at once: whatever dies afterwards, they are there. */
  function change(takeId: string, markId: string, to: (mark: Mark) => Mark[]): Promise<Take> {
    return takes.update(takeId, ({ number, marks }) => {
      if (!marks.some(({ id }) => id === markId))
        throw problem('not-found', `Take ${number} has no such mark. It may have been taken away in another tab.`);
      return { marks: marks.flatMap((mark) => (mark.id === markId ? to(mark) : [mark])) };
    });
  }
  return {
    async add(note) {
      const now = recorder.rollingNow();
      if (!now)
        throw problem('recorder-idle', 'Nothing is rolling, so there is no moment to mark. Nothing was changed.');
      const mark: Mark = { id: nanoid(8), atUs: Math.round(now.elapsedUs), note };
      await takes.update(now.takeId, ({ marks }) => {
        if (marks.length >= mostMarks)
          throw problem('bad-request', `This take has ${mostMarks} marks already; no more are kept.`);
        return { marks: [...marks, mark].sort((a, b) => a.atUs - b.atUs) };
      });
      return mark;
    },
    name: (takeId, markId, note) => change(takeId, markId, (mark) => [{ ...mark, note }]),
    remove: (takeId, markId) => change(takeId, markId, () => []),
  };
}
