import { forecastDifferences, type Forecast, type Remedy } from '@mellow/core';

/** What a remedy gains, by the same forecast as on the screen; empty where it has none. */
export function gainOf(now: Forecast, remedy: Remedy): string {
  const words = remedy.after ? forecastDifferences(now, remedy.after) : [];
  return words.length ? `${words.slice(0, 3).join(', ')}.` : '';
}
