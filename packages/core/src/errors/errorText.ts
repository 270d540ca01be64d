/** Causes deeper than this are not followed; a chain that leads back to itself ends here too. */
const mostCauses = 8;

/** An error and what caused it, outermost first; for errors that came together, the first of them. */
function causesOf(error: unknown): unknown[] {
  const chain: unknown[] = [];
  for (let at: unknown = error; at !== undefined && at !== null && chain.length < mostCauses;) {
    chain.push(at);
    if (!(at instanceof Error)) break;
    at = at instanceof AggregateError && at.errors.length ? at.errors[0] : at.cause;
  }
  return chain;
}

/** What an error says, whatever was thrown: where it wraps others, what the innermost says, since that is the reason. */
export function errorText(error: unknown): string {
  const chain = causesOf(error);
  const said = chain.map((one) => (one instanceof Error ? one.message : String(one))).findLast((text) => text !== '');
  return said ?? (error instanceof Error ? error.name : String(error));
}

/** The code of an error or of the nearest of its causes that has one ("ENOSPC", "SQLITE_FULL"); null where none does. */
export function errorCode(error: unknown): string | null {
  for (const one of causesOf(error)) {
    const code = (one as { code?: unknown } | null)?.code;
    if (typeof code === 'string') return code;
  }
  return null;
}
