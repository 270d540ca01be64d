import type { BaseQueryFn, FetchArgs, FetchBaseQueryError } from '@reduxjs/toolkit/query/react';

type Ask = BaseQueryFn<string | FetchArgs, unknown, FetchBaseQueryError>;

/**
 * Changes of setups reach the server one after another, in the order in which they were made, and a take that is begun
 * has all that came before it. A list of setups that was asked for while changes were on their way would show an
 * earlier choice again, and the next change would be made from it: it is asked for once more when they have arrived.
 */
export function changesInOrder(ask: Ask): Ask {
  let stored: Promise<unknown> = Promise.resolve();
  let changes = 0;
  return async (what, api, options) => {
    const { url, method = 'GET' } = typeof what === 'string' ? { url: what } : what;
    if (method !== 'GET' && url.startsWith('/setups')) {
      changes++;
      const answer = stored.then(() => ask(what, api, options));
      // Beginning a take may last: what is changed meanwhile does not wait for it.
      if (!url.endsWith('/trials')) stored = answer;
      return answer;
    }
    if (url !== '/setups') return ask(what, api, options);
    for (;;) {
      const before = changes;
      await stored;
      const answer = await ask(what, api, options);
      if (changes === before) return answer;
    }
  };
}
