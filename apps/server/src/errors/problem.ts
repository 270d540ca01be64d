import type { Problem } from '@mellow/model';

/** An error that becomes a problem document (RFC 9457): what happened, what it means and what to do. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

const kinds = {
  'not-found': { status: 404, title: 'Not found' },
  'bad-request': { status: 400, title: 'The request does not fit' },
  'bad-range': { status: 416, title: 'Not in the file' },
  'too-large': { status: 413, title: 'The request is too large' },
  'foreign-origin': { status: 403, title: 'Asked from elsewhere' },
  'unknown-program': { status: 401, title: 'An unknown program asked' },
  'other-user': { status: 403, title: 'Another user asked' },
  'outside-drives': { status: 403, title: 'Outside the drives' },
  'recorder-busy': { status: 409, title: 'A take is rolling' },
  'job-running': { status: 409, title: 'Other work runs' },
  cancelled: { status: 409, title: 'Ended before it was done' },
  'take-unreadable': { status: 422, title: 'This take cannot be read' },
  'setup-unreadable': { status: 422, title: 'This setup cannot be read' },
  'ledger-unreadable': { status: 422, title: 'The ledger cannot be read' },
  'job-failed': { status: 422, title: 'The work failed' },
  'data-busy': { status: 503, title: 'The application’s own data are in use' },
  'data-full': { status: 507, title: 'No room for the application’s own data' },
  'recorder-idle': { status: 409, title: 'Nothing is rolling' },
  'recipe-clash': { status: 409, title: 'The recipe clashes' },
  'drive-problem': { status: 409, title: 'The drive cannot be used' },
  'no-source': { status: 409, title: 'What is to be recorded is not there' },
  'no-sound': { status: 409, title: 'A sound is not there' },
  'still-used': { status: 409, title: 'Still in use' },
  'file-missing': { status: 410, title: 'The file is not there' },
  'engine-failed': { status: 500, title: 'The recorder failed' },
  internal: { status: 500, title: 'Something went wrong here' },
} as const;
export type ProblemKind = keyof typeof kinds;

/** Makes a problem of a kind; `detail` tells it in full. */
export function problem(kind: ProblemKind, detail: string, fields?: Problem['fields']): ProblemError {
  const { status, title } = kinds[kind];
  return new ProblemError({ type: `/problems/${kind}`, title, status, detail, ...(fields ? { fields } : {}) });
}
