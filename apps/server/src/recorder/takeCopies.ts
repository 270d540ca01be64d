import { extname } from 'node:path';
import { mp4Trouble } from '@mellow/core';
import { partsOf, rewrapResultSchema, type RewrapInto, type Take, type TakeFile } from '@mellow/model';
import { problem } from '../errors/problem';
import { withFile } from '../files/ownFiles';
import { builtName } from '../orders/stripeOrder';
import { nameOf, type AfterTakeServices } from './afterTakeServices';

/** Makes a plain MP4, or one file of all parts, beside a take, read back and compared; the take stays as it is. */
export async function rewrapTake(
  { takes, jobs, log }: Pick<AfterTakeServices, 'takes' | 'jobs' | 'log'>,
  takeId: string,
  into: RewrapInto = 'mp4',
): Promise<Take> {
  const take = await takes.get(takeId);
  const path = await takes.file(takeId);
  const from = await takes.readable(takeId);
  const suffix = extname(path);
  const asIs = into === 'as-is';
  if (asIs && !take.stripes)
    throw problem(
      'bad-request',
      'This take is one file, or has parts that are files of their own: nothing is to be built.',
    );
  const noMp4 = into === 'mp4' ? mp4Trouble(take.recipe) : null;
  if (noMp4 !== null) throw problem('bad-request', `${noMp4.text} Nothing was made; the take stays as it is.`);
  const stem = path.slice(0, -suffix.length);
  const joins = partsOf(take).length > 1;
  const ending = asIs ? suffix : `.${into}`;
  const outPath = take.stripes
    ? builtName(path, ending)
    : `${stem}${joins ? ' whole' : suffix === ending ? ' plain' : ''}${ending}`;
  const result = rewrapResultSchema.parse(
    await jobs.run({
      title: `${nameOf(take)}: ${take.stripes ? 'building one file' : joins ? 'joining its parts' : 'making an MP4'}`,
      takeId,
      logFolder: takes.folder(takeId),
      job: { kind: 'rewrap', filePath: from, outPath, rate: take.recipe.rate, asIs },
      async store(made) {
        const { filePath, identity, bytes } = rewrapResultSchema.parse(made);
        const copy: TakeFile = { role: 'copy', path: filePath, identity, bytes };
        await takes.update(takeId, (now) => ({ files: withFile(now, copy) }));
      },
    }),
  );
  log.add(
    'info',
    `${nameOf(take)}: ${joins ? 'one file' : 'an MP4'} with ${result.pictures} pictures was made and read back.`,
    takes.folder(takeId),
  );
  return takes.get(takeId);
}
