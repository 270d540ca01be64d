import { isLeftAlone, errorText } from '@mellow/core';
import { listScreens, openScreenLooks } from '@mellow/engine';
import {
  isGrabbed,
  screenLookSchema,
  type GrabbedSource,
  type ScreenLook,
  type Screens,
  type Source,
} from '@mellow/model';
import { problem, ProblemError } from '../errors/problem';
import type { JobService } from '../files/jobs';
import type { LeftAlone } from './leftAlone';

export interface ScreenService {
  list(): Promise<Screens>;
  /** A small picture of what would be recorded now. */
  look(source: Source): Promise<ScreenLook>;
  /**
   * A source as it is today: a window's number changes whenever its game is started, a display's place when it is moved.
   * @throws a problem in words where it is not there
   */
  today(source: Source): Promise<Source>;
  close(): void;
}

export function createScreenService(jobs: JobService, leftAlone: Pick<LeftAlone, 'names'>): ScreenService {
  const looks = openScreenLooks();
  return {
    async list() {
      const [screens, alone] = [await listScreens(), await leftAlone.names()];
      return { ...screens, windows: screens.windows.filter(({ program }) => !program || !isLeftAlone(alone, program)) };
    },
    async look(source) {
      if (!isGrabbed(source))
        throw problem(
          'bad-request',
          'The practice game is drawn by the recorder itself: there is nothing to look at before it rolls.',
        );
      try {
        const today = await found(source, await leftAlone.names());
        if (process.platform === 'linux') return await looks.look(today);
        return screenLookSchema.parse(
          await jobs.run({ title: 'Looking at the screen', job: { kind: 'screen-look', source: today } }),
        );
      } catch (error) {
        if (error instanceof ProblemError) throw error;
        throw problem('no-source', errorText(error));
      }
    },
    today: async (source) => (isGrabbed(source) ? found(source, await leftAlone.names()) : source),
    close: looks.close,
  };
}

async function found(source: GrabbedSource, alone: readonly string[]): Promise<GrabbedSource> {
  const { trouble, displays, windows } = await listScreens();
  if (trouble) throw problem('no-source', `${trouble} Nothing of the screen can be recorded; the practice game can.`);
  switch (source.kind) {
    case 'region':
      return source;
    case 'display': {
      const display = displays.find(({ name }) => name === source.name);
      if (!display)
        throw problem(
          'no-source',
          `The display ${source.name} is not connected. Choose another one on Path, under Capture.`,
        );
      const { leftPx, topPx, widthPx, heightPx } = display;
      return { ...source, leftPx, topPx, widthPx, heightPx };
    }
    case 'window': {
      const window =
        windows.find(({ windowId, title }) => windowId === source.windowId && title === source.title) ??
        windows.find(({ title }) => title === source.title) ??
        windows.find(({ windowId }) => windowId === source.windowId);
      if (!window)
        throw problem(
          'no-source',
          `No window “${source.title}” is open. Start the game, or choose another window on Path, under Capture.`,
        );
      const { program, ...place } = window;
      if (program && isLeftAlone(alone, program))
        throw problem(
          'no-source',
          `${program} is left alone: its windows are not recorded. Let it be recorded again on Path, under Capture, or choose another window.`,
        );
      return { ...source, ...place, title: source.title };
    }
  }
}
