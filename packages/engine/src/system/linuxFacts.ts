import { existsSync, readdirSync, readFileSync, readlinkSync, realpathSync, statfsSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { SystemFacts } from './systemFacts';

/** File systems that lie on another computer (statfs magic numbers of Linux: NFS, SMB, CIFS, 9P; from memory). */
const networkTypes = new Set([0x6969, 0x517b, 0xff534d42, 0xfe534d42, 0x01021997]);

/** FAT (statfs magic number of Linux, from memory): a file's size is kept in 32 bits (Microsoft FAT specification, 6). */
const fatType = 0x4d44;
const largestFatFileBytes = 2 ** 32 - 1;

const orNull = <T>(read: () => T): T | null => {
  try {
    return read();
  } catch {
    return null;
  }
};

const blockDeviceOf = (folder: string): string => {
  const device = statSync(folder).dev;
  return realpathSync(`/sys/dev/block/${device >> 8}:${device & 255}`);
};

/** Threads, processor, drives and displays as Linux tells them in /proc and /sys. */
export const linuxFacts: SystemFacts = {
  ownThreadId: () => orNull(() => Number(readlinkSync('/proc/thread-self').split('/').pop())),
  threadIds: () => orNull(() => readdirSync('/proc/self/task').map(Number)) ?? [],
  threadTimes(ids) {
    if (!ids.length) return null;
    return orNull(() => {
      let runS = 0;
      let waitS = 0;
      for (const id of ids) {
        // schedstat: nanoseconds run, nanoseconds waited for a processor.
        const [run, wait] = readFileSync(`/proc/self/task/${id}/schedstat`, 'utf8').split(' ').map(Number);
        runS += (run ?? 0) / 1e9;
        waitS += (wait ?? 0) / 1e9;
      }
      return { runS, waitS };
    });
  },
  processS: (id) =>
    orNull(() => {
      // proc(5): user and system time, fields 14 and 15, in hundredths of a second; the name before may hold spaces.
      const stat = readFileSync(`/proc/${id}/stat`, 'utf8');
      const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
      return (Number(fields[11]) + Number(fields[12])) / 100;
    }),
  machineBusyS: () =>
    orNull(() => {
      const first = readFileSync('/proc/stat', 'utf8').split('\n')[0] ?? '';
      const [user, nice, system, , , irq, softirq, stolen] = first.trim().split(/\s+/).slice(1).map(Number);
      // In hundredths of a second; time that the host of a virtual machine took away counts as busy.
      return [user, nice, system, irq, softirq, stolen].reduce<number>((sum, ticks) => sum + (ticks ?? 0), 0) / 100;
    }),
  pressureUs: () =>
    orNull(() => {
      const some = /some .*total=(\d+)/.exec(readFileSync('/proc/pressure/cpu', 'utf8'));
      return some ? Number(some[1]) : null;
    }),
  physicalDrive: (folder) =>
    orNull(() => {
      const real = blockDeviceOf(folder);
      // A partition lies in the folder of its drive.
      return existsSync(join(real, 'partition')) ? dirname(real) : real;
    }),
  driveKind: (folder) =>
    orNull(() => {
      if (networkTypes.has(statfsSync(folder).type)) return 'network' as const;
      const real = blockDeviceOf(folder);
      // Virtual disks claim to rotate.
      if (/\/virtual\/|\/virtio|\/vd[a-z]/.test(real)) return 'unknown' as const;
      const queue = [join(real, 'queue/rotational'), join(real, '../queue/rotational')].find(existsSync);
      if (!queue) return 'unknown' as const;
      return readFileSync(queue, 'utf8').trim() === '0' ? ('solid state' as const) : ('hard disk' as const);
    }) ?? 'unknown',
  largestFileBytes: (folder) => orNull(() => (statfsSync(folder).type === fatType ? largestFatFileBytes : null)),
  displays() {
    const base = '/sys/class/drm';
    if (!existsSync(base)) return [];
    return readdirSync(base).flatMap((name) => {
      const found = orNull(() => {
        if (!/^card\d+-/.test(name)) return null;
        if (readFileSync(`${base}/${name}/status`, 'utf8').trim() !== 'connected') return null;
        const mode = /^(\d+)x(\d+)/.exec(readFileSync(`${base}/${name}/modes`, 'utf8'));
        if (!mode) return null;
        const [widthPx, heightPx] = [Number(mode[1]), Number(mode[2])];
        return { name: name.replace(/^card\d+-/, ''), widthPx, heightPx, refreshHz: null };
      });
      return found ? [{ ...found, hdr: false }] : [];
    });
  },
  // Removable drives are mounted in there.
  mountFolders: ['/run/media', '/run/mount'],
  systemFolders: [
    '/bin',
    '/boot',
    '/dev',
    '/etc',
    '/lib',
    '/lib32',
    '/lib64',
    '/proc',
    '/root',
    '/run',
    '/sbin',
    '/sys',
    '/usr',
    '/var/lib',
    '/var/log',
    '/var/run',
  ],
};
