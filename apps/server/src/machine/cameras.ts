import { cameraDevicesSchema, type CameraDevices, type Recipe } from '@mellow/model';
import { problem } from '../errors/problem';
import type { JobService } from '../files/jobs';

export interface CameraService {
  list(): Promise<CameraDevices>;
  /** @throws a problem in words where the recipe's camera is not there */
  mustBeThere(recipe: Recipe): Promise<void>;
}

export function createCameraService(jobs: JobService): CameraService {
  const list = async (): Promise<CameraDevices> =>
    cameraDevicesSchema.parse(await jobs.run({ title: 'Asking for cameras', job: { kind: 'list-cameras' } }));
  return {
    list,
    async mustBeThere({ camera }) {
      if (camera?.from.kind !== 'device') return;
      const { device, name } = camera.from;
      if ((await list()).cameras.some((one) => one.device === device)) return;
      throw problem(
        'no-source',
        `The camera ${name} is not there. Plug it in, or choose another one on Path, under Size. The take was not begun.`,
      );
    },
  };
}
