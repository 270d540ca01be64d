import { eq } from 'drizzle-orm';
import { demoMachines, encoderFacts, encoderWords, unprovenSheet, errorText } from '@mellow/core';
import { systemFacts } from '@mellow/engine';
import {
  encoderProofSchema,
  encoders,
  machineSheetSchema,
  type Effort,
  type EncoderName,
  type EncoderProof,
  type EncoderState,
  type Figure,
  type MachinePatch,
  type MachineSheet,
} from '@mellow/model';
import type { Store } from '../db/openStore';
import { machines } from '../db/schema';
import { problem } from '../errors/problem';
import type { AppLog } from '../program/appLog';
import type { JobService } from '../files/jobs';
import type { LiveHub } from '../program/liveHub';
import { thisMachine } from './machineFacts';

export const thisMachineId = 'this';

export interface MachineService {
  list(): Promise<MachineSheet[]>;
  get(id: string): Promise<MachineSheet>;
  change(id: string, patch: MachinePatch): Promise<MachineSheet>;
  /** Tries every encoder on this PC by a short test encode, each in a process of its own. */
  prove(): Promise<MachineSheet>;
  bringInDemo(): Promise<void>;
  removeDemo(): Promise<void>;
}

const patienceMs = 25_000;
const testFrames = 60;
/** Work at the lightest effort a megapixel of the PC that typical values stem from; the same figure as in the core's table. */
const referenceUsPerMegapixel = 4700;

export function createMachineService(store: Store, live: LiveHub, log: AppLog, jobs: JobService): MachineService {
  const rows = async (): Promise<MachineSheet[]> =>
    (await store.db.select().from(machines)).map((row) => machineSheetSchema.parse(JSON.parse(row.document)));
  const save = async (sheet: MachineSheet): Promise<MachineSheet> => {
    const document = JSON.stringify(machineSheetSchema.parse(sheet));
    await store.write((db) =>
      db
        .insert(machines)
        .values({ id: sheet.id, document })
        .onConflictDoUpdate({ target: machines.id, set: { document } }),
    );
    live.dataChanged();
    return sheet;
  };
  /** This PC: what the system tells now, with what was proven before. */
  const own = (kept: MachineSheet | undefined): MachineSheet => {
    const now = thisMachine();
    const sheet = kept ?? unprovenSheet(now, thisMachineId);
    const displays = kept?.displays.length ? kept.displays : systemFacts.displays();
    return { ...sheet, ...now, name: kept?.name ?? now.name, displays };
  };
  const list = async (): Promise<MachineSheet[]> => {
    const all = await rows();
    return [own(all.find((sheet) => sheet.id === thisMachineId)), ...all.filter((sheet) => sheet.id !== thisMachineId)];
  };
  const get = async (id: string): Promise<MachineSheet> => {
    const found = (await list()).find((sheet) => sheet.id === id);
    if (!found)
      throw problem(
        'not-found',
        `There is no machine "${id}". It may have gone with the demo; choose this PC instead.`,
      );
    return found;
  };
  let proving: Promise<MachineSheet> | null = null;
  async function proveAll(): Promise<MachineSheet> {
    const sheet = await get(thisMachineId);
    const states: EncoderState[] = [];
    await jobs.series('Proving the encoders', encoders.length, async (run, signal) => {
      for (const encoder of encoders) {
        const proof = await proveOne(encoder, run);
        if (signal.aborted) throw problem('cancelled', 'Proving was ended; what was known of the encoders stays.');
        const state = stateOf(encoder, proof);
        states.push(state);
        const how = proof.works ? 'works' : `does not work: ${state.reason}`;
        log.add('info', `${encoderWords(encoder)}: ${how}`);
      }
    });
    const coreSpeed = coreSpeedOf(states) ?? sheet.coreSpeed;
    return save({ ...sheet, encoders: states, coreSpeed, provenAt: new Date().toISOString() });
  }
  return {
    list,
    get,
    async change(id, patch) {
      const sheet = await get(id);
      return save(patched(sheet, patch));
    },
    prove() {
      proving ??= proveAll().finally(() => (proving = null));
      return proving;
    },
    async bringInDemo() {
      for (const sheet of demoMachines) await save(sheet);
    },
    async removeDemo() {
      for (const sheet of await rows())
        if (sheet.demo) await store.write((db) => db.delete(machines).where(eq(machines.id, sheet.id)));
    },
  };
}

/** How fast a core of this PC is against the one that typical values stem from; null where AVC in software was not proven. */
function coreSpeedOf(states: readonly EncoderState[]): Figure | null {
  const avc = states.find((s) => s.encoder === 'avc-software')?.workUsPerMegapixel;
  if (!avc) return null;
  return {
    value: referenceUsPerMegapixel / avc.value,
    low: referenceUsPerMegapixel / avc.high,
    high: referenceUsPerMegapixel / avc.low,
    origin: 'measured',
    from: 'from the test encode in software',
  };
}

/** A sheet with what a person knows better. @throws a problem where it is read or measured */
function patched(sheet: MachineSheet, patch: MachinePatch): MachineSheet {
  const { coreSpeed, name, displays, cores, memoryBytes } = patch;
  if (sheet.origin === 'measured' && (coreSpeed !== undefined || cores !== undefined || memoryBytes !== undefined)) {
    throw problem(
      'bad-request',
      'Processor, memory and speed of this PC are read from the system and measured; only its name and displays can be typed.',
    );
  }
  return {
    ...sheet,
    ...(name === undefined ? {} : { name }),
    ...(displays === undefined ? {} : { displays }),
    ...(cores === undefined ? {} : { cores }),
    ...(memoryBytes === undefined ? {} : { memoryBytes }),
    ...(coreSpeed === undefined
      ? {}
      : {
          coreSpeed: {
            value: coreSpeed,
            low: coreSpeed * 0.9,
            high: coreSpeed * 1.1,
            origin: 'assumed' as const,
            from: 'typed for a simulated machine',
          },
        }),
  };
}

const efforts: readonly Effort[] = ['lightest', 'light', 'middle'];

/** A driver that hangs or dies takes only its own process with it. */
async function proveOne(encoder: EncoderName, run: JobService['run']): Promise<EncoderProof> {
  const heavy = encoder === 'av1-software' || encoder === 'hevc-software' || encoder === 'ffv1-software';
  try {
    const job = {
      kind: 'prove-encoder' as const,
      encoder,
      efforts: heavy ? (['lightest'] as const).slice() : [...efforts],
      frames: heavy ? testFrames / 2 : testFrames,
    };
    return encoderProofSchema.parse(await run({ title: `Proving ${encoder}`, job, stallMs: patienceMs }));
  } catch (error) {
    const reason = errorText(error);
    return { works: false, reason, widthPx: 1280, heightPx: 720, byEffort: {} };
  }
}

/** Software: processor time; a block: time on the clock, as it is one frame after another. */
function stateOf(encoder: EncoderName, proof: EncoderProof): EncoderState {
  const software = encoderFacts[encoder].place === 'software';
  const megapixels = (proof.widthPx * proof.heightPx) / 1e6;
  const byEffort = Object.fromEntries(
    Object.entries(proof.byEffort).map(([effort, time]) => [
      effort,
      (software ? time.processorUs : time.clockUs) / megapixels,
    ]),
  );
  const value = byEffort['lightest'];
  const from = `test encode of ${proof.widthPx}×${proof.heightPx}`;
  // Which of several libraries' parts was missing says nothing to a person: none of them answered.
  const reason = proof.works
    ? null
    : software
      ? proof.reason
      : 'no such block answered: the card, its driver, or the media library’s part for it is not there';
  return {
    encoder,
    works: proof.works,
    reason,
    byEffort,
    workUsPerMegapixel:
      proof.works && value ? { value, low: value / 1.15, high: value * 1.3, origin: 'measured', from } : null,
  };
}
