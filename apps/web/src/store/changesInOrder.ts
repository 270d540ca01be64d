import type { BaseQueryFn, FetchArgs, FetchBaseQueryError } from '@reduxjs/toolkit/query/react';

type Ask = BaseQueryFn<string | FetchArgs, unknown, FetchBaseQueryError>;

/** Of one store: when the last change has been answered, and how many were made. */
interface Changes {
  stored: Promise<unknown>;
  made: number;
}

/**
 * Changes of setups reach the server one after another, in the order in which they were made, and a take that is begun
 * has all that came before it. A list of setups that was asked for while changes were on their way would show an
 * earlier choice again, and the next change would be made from it: it is asked for once more when they have arrived.
 */
export function changesInOrder(ask: Ask): Ask {
  const stores = new WeakMap<object, Changes>();
  const changesOf = (store: object): Changes => {
    const changes = stores.get(store) ?? { stored: Promise.resolve(), made: 0 };
    stores.set(store, changes);
    return changes;
  };
  return async (what, api, options) => {
    const { url, method = 'GET' } = typeof what === 'string' ? { url: what } : what;
    const changes = changesOf(api.dispatch);
    if (method !== 'GET' && url.startsWith('/setups')) {
      changes.made++;
      const answer = changes.stored.then(() => ask(what, api, options));
      // Beginning a take may last: what is changed meanwhile does not wait for it.
      if (!url.endsWith('/trials')) changes.stored = answer;
      return answer;
    }
    if (url !== '/setups') return ask(what, api, options);
    for (;;) {
      const before = changes.made;
      await changes.stored;
      const answer = await ask(what, api, options);
      if (changes.made === before) return answer;
    }
  };
}
