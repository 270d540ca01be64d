import { stationNames, type Station } from '@mellow/model';
import type { RibbonStation } from '../../parts/Ribbon';
import type { PathState } from './pathContext';
import { stationChoices } from './pathWords';

/** The stations of the ribbon by the forecast. */
export function ribbonOf({
  recipe,
  setup,
  forecast,
}: Pick<PathState, 'recipe' | 'setup' | 'forecast'>): Record<Station, RibbonStation> {
  const choices = stationChoices(recipe, setup.game, forecast.drive);
  return Object.fromEntries(
    stationNames.map((name): [Station, RibbonStation] => {
      const load = forecast.loads[name];
      return [
        name,
        {
          what: choices[name],
          load: load ? { usual: load.usual, busiest: load.busiest, budget: load.budget } : null,
          unit: load?.unit ?? 'ms',
          unknown: name === 'size' ? 'no work here' : name === 'drive' ? 'speed not measured' : 'not known',
          ...(load
            ? {
                origin: {
                  origin: load.origin,
                  from: load.from,
                  range: `${load.low.toFixed(1)} to ${load.high.toFixed(1)} ${load.unit}`,
                },
              }
            : {}),
        },
      ];
    }),
  ) as Record<Station, RibbonStation>;
}
