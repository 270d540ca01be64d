import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { accessFileName, accessSchema, problemSchema, type Access } from '@mellow/model';
import type { z } from 'zod';

/** What went wrong, with the exit code that says so: 1 it was refused, 2 it was not understood, 3 nobody answers. */
export class CommandError extends Error {
  constructor(
    readonly exitCode: 1 | 2 | 3,
    message: string,
  ) {
    super(message);
  }
}

/** Asks the running application; the answer is parsed. */
export type Ask = <T>(method: 'GET' | 'POST', path: string, schema: z.ZodType<T>, body?: unknown) => Promise<T>;

const notRunning = (dataFolder: string): CommandError =>
  new CommandError(
    3,
    `Mellow Frame does not run on ${dataFolder}. Start it with "npm start", or say with MELLOW_DATA which data folder it uses.`,
  );

function accessOf(dataFolder: string): Access {
  try {
    return accessSchema.parse(JSON.parse(readFileSync(join(dataFolder, accessFileName), 'utf8')));
  } catch {
    throw notRunning(dataFolder);
  }
}

export function openAsk(dataFolder: string): Ask {
  const { url, token } = accessOf(dataFolder);
  return async (method, path, schema, body) => {
    const response = await fetch(`${url}/api${path}`, {
      method,
      headers: {
        Authorization: `Bearer ${token}`,
        ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    }).catch(() => {
      throw notRunning(dataFolder);
    });
    const text = await response.text();
    const answer: unknown = text ? JSON.parse(text) : undefined;
    if (response.ok) return schema.parse(answer);
    const problem = problemSchema.safeParse(answer).data;
    throw new CommandError(1, problem ? `${problem.title}. ${problem.detail}` : `It answered with ${response.status}.`);
  };
}
