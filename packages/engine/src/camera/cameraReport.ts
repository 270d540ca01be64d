import type { CameraReport, TakeOrder } from '@mellow/model';
import type { Control } from '../shared/control';
import { nowUs } from '../shared/monotonic';

/** What became of a take's camera; null where there was none, or where it was drawn without a clock. */
export function cameraReport({ recipe, clock }: TakeOrder, control: Control): CameraReport | null {
  const { camera } = recipe;
  if (!camera || clock !== 'real') return null;
  const stillAwayUs = control.get('cameraAway') ? nowUs() - control.figure('cameraAwaySinceUs') : 0;
  return {
    name: camera.from.kind === 'device' ? camera.from.name : 'stand-in camera',
    where: camera.where,
    standIn: camera.from.kind === 'stand-in',
    pictures: control.get('cameraPictures'),
    away: control.get('cameraAwayTimes'),
    awayS: (control.figure('cameraAwayUs') + stillAwayUs) / 1e6,
  };
}
