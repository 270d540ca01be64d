import type { FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import { problemSchema, type Problem } from '@mellow/model';

/** The problem document of a failed request; a server that does not answer gets one of ours. */
export function problemOf(error: unknown): Problem {
  const parsed = problemSchema.safeParse((error as FetchBaseQueryError | undefined)?.data);
  if (parsed.success) return parsed.data;
  const status = (error as FetchBaseQueryError | undefined)?.status;
  if (status === 'FETCH_ERROR') {
    return {
      type: '/problems/no-server',
      title: 'Mellow Frame does not answer',
      status: 0,
      detail:
        'The program behind this page has ended or is starting. A rolling take is closed by the recorder itself. Start Mellow Frame again; this page goes on by itself.',
    };
  }
  return {
    type: '/problems/unreadable',
    title: 'The answer could not be read',
    status: 0,
    detail: 'Page and program may be of different versions. Load the page again.',
  };
}
