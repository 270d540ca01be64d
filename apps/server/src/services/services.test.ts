import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as fc from 'fast-check';
import { liveStateSchema } from '@mellow/model';
import { lockDataFolder } from '../dataLock';
import { problem } from '../http/problem';
import { openAppLog, readLog } from './appLog';
import { isInside } from './drives';
import { safeName } from '@mellow/core';
import { createLiveHub } from './liveHub';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-unit-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe('names of files', () => {
  it('never lead out of their folder, whatever a setup is called', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 120 }), (name) => {
        const safe = safeName(name);
        expect(safe).not.toMatch(/[/\\\0:*?"<>|]/);
        expect(safe.length).toBeGreaterThan(0);
        expect(isInside('/srv/takes', join('/srv/takes', safe, 'x.mkv'))).toBe(true);
      }),
    );
  });
  it('keep what people write', () => {
    expect(safeName('Comets long play')).toBe('Comets long play');
    expect(safeName('../../etc')).toBe('etc');
    expect(safeName('...')).toBe('take');
  });
  it('inside means below, not beside or the same', () => {
    expect(isInside('/srv/takes', '/srv/takes/a/b.mkv')).toBe(true);
    expect(isInside('/srv/takes', '/srv/takes')).toBe(false);
    expect(isInside('/srv/takes', '/srv/takes-other/b')).toBe(false);
    expect(isInside('/srv/takes', '/srv/takes/../x')).toBe(false);
  });
});

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

describe('problems', () => {
  it('carry a stable type, a status and the whole story', () => {
    expect(problem('recorder-busy', 'Trial 3 is rolling.').problem).toEqual({
      type: '/problems/recorder-busy',
      title: 'A take is rolling',
      status: 409,
      detail: 'Trial 3 is rolling.',
    });
    expect(problem('bad-request', 'x', [{ path: 'name', message: 'missing' }]).problem.fields).toHaveLength(1);
  });
});
