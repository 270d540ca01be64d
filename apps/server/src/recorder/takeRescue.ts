import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { discardPair, ledgerNames } from '@mellow/engine';
import { partsOf, rescueResultSchema, type RescueResult, type Take, type TakeEnd, type TakeFile } from '@mellow/model';
import { withFile } from '../files/ownFiles';
import { partsWrittenDown } from '../takes/takeParts';
import { nameOf, type AfterTakeServices } from './afterTakeServices';
import { keptOf } from './takeMeasures';
import { adoptParts, bytesNow, withBytesNow } from './takeReadBack';

/** How a take's recording ended, as far as anybody knows. */
export interface RescueAsked {
  how: TakeEnd;
  text: string | null;
  /** Frames that had been due by what was last heard of it. */
  dueHeard: number;
}

/** Puts what a dead recorder left into a closed file. @returns whether its picture is readable */
export async function rescueTake(services: AfterTakeServices, take: Take, asked: RescueAsked): Promise<boolean> {
  const { takes, live } = services;
  const { how, text } = asked;
  const folder = takes.folder(take.id);
  await takes.update(take.id, { state: 'rescuing', end: how });
  discardPair(folder);
  rmSync(keptOf(takes, take), { force: true });
  if (!existsSync(join(folder, ledgerNames.header))) {
    const nothing = `${text ?? ''} It had not begun to write, so nothing is lost.`.trim();
    await takes.giveUpReservation(take.id);
    await takes.update(take.id, { state: 'failed', end: how, endText: nothing, filePath: '' });
    live.notify('loss', `${nameOf(take)} did not begin`, `${text ?? ''} Make the trial again.`.trim(), take.id);
    return false;
  }
  const begun = partsOf(await adoptParts(services, take.id, partsWrittenDown(folder)));
  const found = await rescued(services, take, begun, asked.dueHeard);
  const endText = `${text ?? ''} ${found.text}`.trim();
  if (found.away) {
    await takes.update(take.id, { state: 'waiting', end: how, endText });
    live.notify('loss', `${nameOf(take)} waits for its drive`, endText, take.id);
    return false;
  }
  const { facts, summary, tailFrames, fileOffsetUs, filePath } = found;
  const [earlier, last] = [begun.slice(0, -1), begun.at(-1)];
  await takes.update(take.id, (now) => ({
    ...{ state: facts ? 'rescued' : 'failed', end: how, endText, facts, summary, tailFrames, fileOffsetUs },
    filePath: earlier[0]?.path ?? filePath,
    files: take.stripes ? now.files.map(withBytesNow) : filesAfterRescue(now, found, last),
  }));
  const keptS = ((facts?.picture.endUs ?? 0) / 1e6).toFixed(2);
  const lostS = (found.lostUs / 1e6).toFixed(2);
  const words = facts ? `${keptS} s were rescued, ${lostS} s are lost.` : found.text;
  const title = `${nameOf(take)}: ${facts ? 'rescued' : 'nothing could be read'}`;
  live.notify('loss', title, `${text ?? ''} ${words} The next trial can be made at once.`.trim(), take.id);
  return facts !== null;
}

async function rescued(
  { takes, jobs, folders }: AfterTakeServices,
  take: Take,
  begun: readonly TakeFile[],
  dueHeard: number,
): Promise<RescueResult> {
  const folder = takes.folder(take.id);
  const [earlier, last] = [begun.slice(0, -1), begun.at(-1)];
  return rescueResultSchema.parse(
    await jobs.run({
      title: `${nameOf(take)}: rescuing`,
      takeId: take.id,
      logFolder: folder,
      job: {
        kind: 'rescue',
        ledgerFolder: folder,
        filePath: last?.path ?? take.filePath,
        identity: last?.identity ?? null,
        earlier: take.stripes ? [] : earlier.map(({ path, startUs }) => ({ path, startUs: startUs ?? 0 })),
        startUs: last?.startUs ?? 0,
        ...(take.stripes
          ? { stripes: { ...take.stripes, files: begun.map(({ path, identity }) => ({ path, identity })) } }
          : {}),
        fallbackFolder: folders.kept,
        dueHeard,
      },
    }),
  );
}

/** The file that was open is replaced by its closed copy, which may lie elsewhere. */
function filesAfterRescue(
  { files }: Take,
  { filePath, identity, openPath, emptyLast }: RescueResult,
  last: TakeFile | undefined,
): TakeFile[] {
  const others = files.map((file) => (file.path === openPath ? { ...file, role: 'open' as const } : file));
  if (!filePath) return others;
  const closed = { ...last, role: emptyLast ? ('open' as const) : ('take' as const), path: filePath, identity };
  return withFile({ files: others }, { ...closed, bytes: bytesNow({ path: filePath, bytes: null }) });
}
