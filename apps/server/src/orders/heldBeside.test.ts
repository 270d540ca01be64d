import * as fc from 'fast-check';
import { nanoid } from 'nanoid';
import { watchFolderName, watchOfFolder } from './heldBeside';

it('tells setup and beginning from a folder’s name, whatever signs an id has, and takes none of a take for one', () => {
  fc.assert(
    fc.property(fc.stringMatching(/^[\w-]{1,40}$/), fc.integer({ min: 1, max: 4e12 }), (setupId, beganMs) => {
      expect(watchOfFolder(watchFolderName(setupId, beganMs))).toEqual({ setupId, beganMs });
    }),
  );
  expect(watchOfFolder(nanoid(12).replace('watch-', ''))).toBeNull();
});
