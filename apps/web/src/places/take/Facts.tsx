import { formatMs, playCostWords } from '@mellow/core';
import type { Fact, Take } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { QuietHeading } from '../../parts/QuietHeading';

/** Facts as asked and as found; what was found was read back from the file. */
export function Facts({ take }: { take: Take }) {
  const facts: Fact[] = [...(take.verdict?.facts ?? [])];
  if (take.playCost) {
    const { with: during, without, pairs } = take.playCost;
    const words = playCostWords(take.playCost);
    const low =
      during.onePercentLowFps !== null && without.onePercentLowFps !== null
        ? `1 % low ${during.onePercentLowFps.toFixed(0)}, was ${without.onePercentLowFps.toFixed(0)} fps`
        : `slowest ${(during.slowestMs[0] ?? 0).toFixed(1)}, was ${formatMs(without.slowestMs[0] ?? 0)}`;
    facts.push({
      name: 'Play cost',
      asked: pairs > 1 ? `${pairs} turns without and with recording` : 'one turn without and with recording',
      found: `${words.figure}${words.range ? ` (${words.range})` : ''}, ${low}`,
      holds: null,
    });
  }
  return (
    <table className="facts">
      <thead>
        <tr>
          <QuietHeading name="fact" />
          <th>as asked</th>
          <th>as found</th>
          <th>
            <span className="visually-hidden">holds</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {facts.map((fact) => (
          <tr key={fact.name}>
            <td className="soft">{fact.name}</td>
            <td>{fact.asked}</td>
            <td className={fact.holds === false ? 'over' : ''}>{fact.found}</td>
            <td>
              {fact.holds === true ? (
                <span title="holds" className="facts-holds">
                  <Icon name="check" />
                </span>
              ) : fact.holds === false ? (
                <b className="over" title="does not hold">
                  !
                </b>
              ) : (
                ''
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
