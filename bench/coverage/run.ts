import { dirname, join } from 'node:path';
import { plainPracticeGame, withEncoder } from '@mellow/core';
import { briefSchema, endedStates, type LiveState, type MachineSheet, type Take } from '@mellow/model';
import { openServices, type Services } from '../../apps/server/src/services/services';
import { figure, type BenchResult } from '../measure';
import { coverageOf, coverageRowOf, playCostAgreement, type CoverageRow } from './judge';
import { coverageCases, coverageGame, coverageRecipe, type CoverageCase } from './recipes';

const lengthS = 10;
/** So often the 80 % ranges have to hold, of what is found. */
const [leastShare, mostShare] = [0.65, 0.95];

/**
 * Forecasts recipes and then records them, on the machine this runs on. Encoders are proven before, as a person is asked to; every
 * recipe is a setup of its own, so that no trial teaches the next.
 * @param seed of the first game @param onTake told of each take, to keep what is wanted of it
 */
export async function recordCases(
  folder: string,
  cases: readonly CoverageCase[],
  seed: number,
  onTake: (one: CoverageCase, take: Take, machine: MachineSheet) => void = () => {},
): Promise<CoverageRow[]> {
  const services = await openServices({ dataFolder: join(folder, 'coverage') });
  const rows: CoverageRow[] = [];
  try {
    const machine = await services.machines.prove();
    for (const [i, one] of cases.entries()) {
      const take = await recorded(services, one, i, seed + 37 * i);
      onTake(one, take, machine);
      rows.push(coverageRowOf(nameOf(one), take));
    }
  } finally {
    await services.recorder.shutDown();
    await services.store.close();
  }
  return rows;
}

/** How often the stated ranges hold: 24 recipes of which none was measured for fitting. */
export async function benchCoverage(folder: string): Promise<BenchResult[]> {
  const rows = await recordCases(folder, coverageCases, 500);
  printRows(rows);
  return resultsOf(rows);
}

const nameOf = ({ scene, encoder, effort, fileSize, fps, rate }: CoverageCase): string =>
  `${scene} ${encoder} ${effort} ${fileSize.join('x')} ${fps} ${'quality' in rate ? `q${rate.quality}` : `${rate.kbps}k`}`;

async function recorded(s: Services, one: CoverageCase, i: number, seed: number): Promise<Take> {
  const quota = one.quotaMb;
  const drive =
    quota === null
      ? null
      : await s.drives.add({ name: `Quota ${i}`, folder: driveFolder(s, i), quotaBytes: quota * 1e6, make: true });
  const setup = await s.setups.create({
    name: `Coverage ${i + 1}`,
    brief: briefSchema.parse({ purpose: 'long-play', sessionMinutes: 30 }),
    game: { ...plainPracticeGame, ...coverageGame(one, seed) },
  });
  const recipe = coverageRecipe(withEncoder(setup.draft, one.encoder), one);
  await s.setups.setDraft(setup.id, drive ? { ...recipe, driveId: drive.id } : recipe);
  const begun = await s.recorder.startTrial(setup.id, lengthS);
  await until(s, (state) => state.recorder === 'idle');
  const take = await s.takes.get(begun.id);
  if (!endedStates.includes(take.state) || !take.facts)
    throw new Error(`${nameOf(one)}: ${take.endText ?? take.state}`);
  await s.takes.remove(take.id);
  return take;
}

const driveFolder = (s: Services, i: number): string => join(dirname(s.folders.data), `quota-${i}`);

function until(s: Services, wanted: (state: LiveState) => boolean): Promise<void> {
  return new Promise((resolve) => {
    const stop = s.live.listen((state) => {
      if (!wanted(state)) return;
      stop();
      resolve();
    });
  });
}

export function printRows(rows: readonly CoverageRow[]): void {
  for (const { name, figures, playCost } of rows) {
    const words = Object.entries(figures).map(([key, one]) => {
      if (!one) return `${key} -`;
      const { value, low, high } = one.foretold;
      const digits = key === 'ssim' ? 3 : 2;
      const unit = key === 'size' ? 1e6 : 1;
      const [v, l, h, f] = [value, low, high, one.found].map((x) => (x / unit).toFixed(digits));
      return `${key} ${f} of ${v} [${l} ${h}]${one.found < low || one.found > high ? '*' : ''}`;
    });
    const cost = playCost
      ? `play cost ${(playCost.found * 100).toFixed(1)} % [${(playCost.low * 100).toFixed(1)} ${(playCost.high * 100).toFixed(1)}] of ${(playCost.foretold.value * 100).toFixed(1)} [${(playCost.foretold.low * 100).toFixed(1)} ${(playCost.foretold.high * 100).toFixed(1)}]`
      : 'play cost -';
    console.log(`${name.padEnd(58)} ${[...words, cost].join('; ')}`);
  }
}

export function resultsOf(rows: readonly CoverageRow[]): BenchResult[] {
  const { told, sameSign, overlaps, rankCorrelation } = playCostAgreement(rows);
  return [
    ...coverageOf(rows).flatMap(({ figure: name, rows: count, inside, medianRatio }) => [
      {
        name: `80 % range of ${name} holds, of ${count} recipes`,
        value: inside / count,
        unit: 'of them',
        goal: `${leastShare} to ${mostShare}`,
        holds: inside / count >= leastShare && inside / count <= mostShare,
      },
      figure(`found / foretold of ${name}, median`, medianRatio, ''),
    ]),
    {
      name: `play cost: sign agrees, of ${told} that could be told from none`,
      value: told ? sameSign / told : 1,
      unit: 'of them',
      goal: 'at least 0.9',
      holds: !told || sameSign / told >= 0.9,
    },
    figure('play cost: found and foretold ranges overlap', overlaps, 'of them'),
    {
      name: 'play cost: rank correlation of foretold and found (Spearman)',
      value: rankCorrelation,
      unit: '',
      goal: 'at least 0.6',
      holds: rankCorrelation >= 0.6,
    },
  ];
}
