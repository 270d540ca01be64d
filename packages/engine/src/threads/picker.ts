import { dueUs } from '@mellow/core';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createFaults } from './faults';
import { pickOnDrivenClock } from './pickDriven';
import { openPicking } from './picking';
import { pickOnRealClock } from './pickReal';

/** Decides at each due what becomes of it, and hands accepted frames on by number. */
runThread((given) => {
  const picking = openPicking(given);
  const { control, order } = picking;
  tell({ type: 'ready', threadId: ownThreadId() });
  while (control.get('ready') === 0 && control.get('stop') === 0) control.wait('ready', 0, 1e6);
  const issued = order.clock === 'real' ? pickOnRealClock(picking) : pickOnDrivenClock(picking);
  createFaults(order, 'picker')('end');
  // Before the end goes its way: Pack mixes sound up to here when it comes.
  control.setFigure('endUs', dueUs(order.recipe.rate, issued));
  picking.end();
  control.set('pickerDone', 1);
  tell({ type: 'done' });
});
