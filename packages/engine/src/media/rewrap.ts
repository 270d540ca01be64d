import type { RewrapResult } from '@mellow/model';
import { copyTracks } from './copyTracks';
import { readBack } from './readBack';

/**
 * Copies every track of a file into a plain MP4 without encoding again, and reads both back.
 * @param whole gives the result its name only when it is complete
 * @throws where the copy has not as many pictures and lanes as the source
 */
export function rewrapToMp4(
  filePath: string,
  outPath: string,
  whole: (write: (temporary: string) => void) => string,
): RewrapResult {
  const source = readBack(filePath).facts;
  let result: RewrapResult | null = null;
  whole((temporary) => {
    copyTracks(filePath, temporary, {
      format: 'mp4',
      lanes: source.lanes.map((_, i) => i),
      muxer: { movflags: '+faststart' },
    });
    const copy = readBack(temporary).facts;
    if (copy.picture.packets !== source.picture.packets || copy.lanes.length !== source.lanes.length) {
      throw new Error(
        `The copy has ${copy.picture.packets} pictures and ${copy.lanes.length} lanes, the take ${source.picture.packets} and ${source.lanes.length}. It was put aside; the take is as it was.`,
      );
    }
    result = { filePath: outPath, bytes: copy.bytes, pictures: copy.picture.packets, lanes: copy.lanes.length };
  });
  if (!result) throw new Error('the copy was not made');
  return result;
}
