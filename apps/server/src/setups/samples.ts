import { statSync } from 'node:fs';
import { basename, isAbsolute } from 'node:path';
import { sampleOf, takeName, errorText } from '@mellow/core';
import { mediaFactsSchema, type ChosenSample, type SampleSource, type Setup } from '@mellow/model';
import { problem, ProblemError } from '../errors/problem';
import type { JobService } from '../files/jobs';
import type { SetupService } from './setups';
import type { TakeService } from '../takes/takes';

export interface SampleService {
  /** Sets what a setup's trials play. @throws a problem in words where it cannot be played */
  choose(setupId: string, chosen: ChosenSample): Promise<Setup>;
  /** Lets the trials of a take's setup play it. */
  playFrom(takeId: string): Promise<Setup>;
  /** @throws a problem in words where its file is gone */
  today(sample: SampleSource): Promise<SampleSource>;
}

const liveWords = 'Let trials play the source itself, or choose another sample, on Path under Capture.';

export function createSampleService(setups: SetupService, takes: TakeService, jobs: JobService): SampleService {
  /** Reads a file to its end: how many pictures it has decides when it begins again. */
  async function looked(path: string, name: string): Promise<SampleSource> {
    mustBeFile(path);
    let found: SampleSource | string;
    try {
      const facts = await jobs.run({ title: `Reading ${name}`, job: { kind: 'sample-facts', filePath: path } });
      found = sampleOf(mediaFactsSchema.parse(facts), path, name);
    } catch (error) {
      if (error instanceof ProblemError) throw error;
      found = errorText(error);
    }
    if (typeof found === 'string')
      throw problem('bad-request', `${basename(path)} cannot be a sample. ${found} Nothing was changed.`);
    return found;
  }

  async function ofTake(takeId: string): Promise<SampleSource> {
    const take = await takes.get(takeId);
    return looked(await takes.file(takeId), `${take.game.title}, ${takeName(take)}`);
  }

  return {
    playFrom: async (takeId) => setups.setSample((await takes.get(takeId)).setupId, await ofTake(takeId)),
    async choose(setupId, chosen) {
      await setups.get(setupId);
      switch (chosen.from) {
        case 'live':
          return setups.setSample(setupId, null);
        case 'take':
          return setups.setSample(setupId, await ofTake(chosen.takeId));
        case 'file':
          return setups.setSample(setupId, await looked(chosen.path, basename(chosen.path) || chosen.path));
      }
    },
    today: (sample) => {
      mustBeFile(sample.path);
      return Promise.resolve(sample);
    },
  };
}

function mustBeFile(path: string): void {
  if (!isAbsolute(path))
    throw problem('bad-request', `${path} is no complete path of this PC. Write it from the root or the drive on.`);
  try {
    if (statSync(path).isFile()) return;
  } catch {
    // Told below, with what to do.
  }
  throw problem(
    'no-source',
    `The sample is not at ${path}: it was moved or deleted, or its drive is away. ${liveWords}`,
  );
}
