import { openControl } from '../shared/control';
import { createSteadyWork } from '../shared/steadyWork';
import { ownThreadId, runThread, tell } from '../shared/threadPort';

/** A helper of the practice game's main thread: works on each frame beside it, as the threads of a game do. */
runThread(({ memory }) => {
  const control = openControl(memory.control);
  const work = createSteadyWork();
  let seen = control.get('helperFrames');
  tell({ type: 'ready', threadId: ownThreadId() });
  while (control.get('failed') === 0) {
    control.wait('helperFrames', seen, 1e6);
    const frames = control.get('helperFrames');
    if (frames === seen) continue;
    // The main thread waits for every helper, so that never more than one frame is open.
    seen = frames;
    work(control.figure('helperWorkUs'));
    control.add('helpersDone', 1);
    control.wake('helpersDone');
  }
  tell({ type: 'done' });
});
