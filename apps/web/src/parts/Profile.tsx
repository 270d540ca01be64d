import { stationNames, type LedgerSummary } from '@mellow/model';

/** The small form of the path: the busiest 1 % of each station against one budget line. */
export function Profile({ loads, width = 84 }: { loads: LedgerSummary['loads'] | null; width?: number }) {
  const step = width / stationNames.length;
  const height = 40;
  const line = 10;
  const words = stationNames.map((name) => {
    const load = loads?.[name];
    return load ? `${name} ${Math.round((load.busiestMs / load.budgetMs) * 100)} %` : `${name} not known`;
  });
  return (
    <svg
      width={width}
      height={height + 6}
      role="img"
      aria-label={`Busiest 1 % against the budget: ${words.join(', ')}`}
    >
      {stationNames.map((name, i) => {
        const load = loads?.[name];
        const share = load ? load.busiestMs / load.budgetMs : 0;
        const full = height - line;
        const tall = Math.min(height, full * share);
        return (
          <g key={name}>
            <rect x={i * step + 2} y={line} width={step - 4} height={full} fill="var(--well)" />
            {load && (
              <rect
                x={i * step + 2}
                y={height - tall}
                width={step - 4}
                height={Math.max(1, tall)}
                fill={share > 1 ? 'var(--over)' : `var(--${name})`}
              />
            )}
          </g>
        );
      })}
      <path d={`M0 ${line}.5h${width}`} stroke="var(--ink)" />
    </svg>
  );
}
