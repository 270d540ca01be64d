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
  picking.end();
  control.setFigure('endUs', dueUs(order.recipe.rate, issued));
  control.set('pickerDone', 1);
  tell({ type: 'done' });
});
