import { statSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { ledgerNames } from '../files/ledgerNames';

/** gone: nobody answers at its address; answers: it lives; silent: its process is there and does not answer. */
export type RecorderSign = 'gone' | 'answers' | 'silent';

/** Asks at a recorder's address whether it lives and makes this take. */
export function askRecorder(address: string, takeId: string, patienceMs = 2000): Promise<RecorderSign> {
  if (!address) return Promise.resolve('gone');
  return new Promise((resolve) => {
    const socket = connect(address);
    let text = '';
    let late: NodeJS.Timeout | undefined = undefined;
    const settle = (sign: RecorderSign): void => {
      clearTimeout(late);
      socket.destroy();
      resolve(sign);
    };
    late = setTimeout(() => settle('silent'), patienceMs);
    socket.on('data', (chunk: Buffer) => (text += chunk.toString()));
    socket.on('error', () => settle('gone'));
    socket.on('end', () => settle(answersFor(text, takeId) ? 'answers' : 'gone'));
  });
}

function answersFor(text: string, takeId: string): boolean {
  try {
    return (JSON.parse(text) as { takeId?: unknown }).takeId === takeId;
  } catch {
    return false;
  }
}

/** Whether anybody answers at a local address; one whose process is stopped counts. */
export function answersAt(address: string): Promise<boolean> {
  if (!address) return Promise.resolve(false);
  return new Promise((resolve) => {
    const socket = connect(address);
    const settle = (answers: boolean): void => {
      socket.destroy();
      resolve(answers);
    };
    socket.once('connect', () => settle(true));
    socket.once('error', () => settle(false));
  });
}

/** When a recorder last gave a sign in a take's folder, milliseconds since 1970; null where it never did. */
export function lastBeatMs(folder: string): number | null {
  return statSync(join(folder, ledgerNames.heartbeat), { throwIfNoEntry: false })?.mtimeMs ?? null;
}
