import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { liveStateSchema } from '@mellow/model';
import { lockDataFolder } from './dataLock';
import { openAppLog, readLog } from './appLog';
import { createLiveHub } from './liveHub';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-unit-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe('the lock of a data folder', () => {
  it('holds once, answers as long as it is held, and is given back', async () => {
    const lock = await lockDataFolder(folder);
    if (!('release' in lock)) throw new Error(lock.sentence);
    expect(readFileSync(join(folder, 'lock'), 'utf8')).toContain(String(process.pid));
    expect(await lockDataFolder(folder)).toMatchObject({ sentence: expect.stringMatching(/already runs/) });
    lock.release();
    expect(existsSync(join(folder, 'lock'))).toBe(false);
  });
  // This very process has the number, and does not answer at the address: a number is no proof.
  it.each([`{"pid":${process.pid},"address":"/nowhere.sock"}`, '999999999', 'nobody', ''])(
    'is taken over from "%s", which does not answer',
    async (owner) => {
      writeFileSync(join(folder, 'lock'), owner);
      const lock = await lockDataFolder(folder);
      expect('release' in lock).toBe(true);
      if ('release' in lock) lock.release();
    },
  );
  it('says what is wrong with a folder that cannot be made', async () => {
    writeFileSync(join(folder, 'file'), '');
    expect(await lockDataFolder(join(folder, 'file', 'data'))).toMatchObject({
      sentence: expect.stringMatching(/cannot be made/),
    });
  });
});

describe('the log', () => {
  it('is kept in the data folder and beside the take, and read back without broken lines', () => {
    const log = openAppLog(folder);
    const take = mkdtempSync(join(folder, 'take-'));
    log.add('warn', 'The drive is slow.', take);
    log.add('info', 'Closed.');
    writeFileSync(join(folder, 'log.ndjson'), `${readFileSync(join(folder, 'log.ndjson'), 'utf8')}{"at":"half a li`);
    expect(readLog(join(folder, 'log.ndjson')).map((line) => line.text)).toEqual(['The drive is slow.', 'Closed.']);
    expect(readLog(join(take, 'log.ndjson')).map((line) => line.level)).toEqual(['warn']);
    expect(openAppLog(folder).recent()).toHaveLength(2);
    expect(readLog(join(folder, 'none'))).toEqual([]);
  });
});

describe('the live state', () => {
  it('counts up, reaches listeners, and leaves those alone that have gone', () => {
    const hub = createLiveHub();
    const seen: number[] = [];
    const stop = hub.listen((state) => seen.push(state.serial));
    hub.dataChanged();
    hub.notify('loss', 'a', 'b', null);
    const firstNotice = hub.state().notice?.id ?? 0;
    hub.notify('loss', 'a', 'b', null);
    stop();
    hub.setTake('armed', null);
    expect(seen).toEqual([1, 2, 3]);
    expect(hub.state()).toMatchObject({ serial: 4, recorder: 'armed', dataVersion: 1 });
    expect(hub.state().notice?.id).toBeGreaterThan(firstNotice);
    expect(liveStateSchema.safeParse(hub.state()).success).toBe(true);
  });
});
