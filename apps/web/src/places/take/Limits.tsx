import type { Judged, Take } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { QuietHeading } from '../../parts/QuietHeading';
import { questionOfAnswer } from '../brief/questions';

/** Every limit that the verdict went by, what matters most first: what was asked, what was found, and where the limit comes from. */
export function Limits({ take }: { take: Take }) {
  const limits = take.verdict?.limits ?? [];
  if (!limits.length) return null;
  const held = limits.filter(({ state }) => state === 'held').length;
  return (
    <details className="predicted" open={held < limits.length}>
      <summary>
        <b>Limits</b>{' '}
        <span className="soft">
          {held} of {limits.length} held
        </span>
      </summary>
      <table className="facts">
        <thead>
          <tr>
            <QuietHeading name="limit" />
            <th>asked</th>
            <th>found</th>
            <th>follows from</th>
            <th>
              <span className="visually-hidden">holds</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {limits.map((limit) => (
            <tr key={limit.limit}>
              <td className="soft">{limit.name}</td>
              <td>{limit.asked}</td>
              <td className={limit.state === 'broken' ? 'over' : ''}>{limit.found}</td>
              <td className="soft">{questionOfAnswer(limit.answer)}</td>
              <td>
                <State limit={limit} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function State({ limit: { state, known } }: { limit: Judged }) {
  if (state === 'held')
    return (
      <span title="held" className="facts-holds">
        <Icon name="check" />
      </span>
    );
  return state === 'broken' ? (
    <b className="over" title="broken">
      !
    </b>
  ) : (
    <span title={known ? 'unclear' : 'not known'}>?</span>
  );
}
