import { limitFacts, limitsOf, type Limit } from '@mellow/core';
import type { Brief, LimitName, Setup } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { questionOfAnswer } from './questions';

interface LimitFieldsProps {
  setup: Setup;
  onChange: (part: Partial<Brief>) => void;
}

/** The limits that follow from the answers; each can be set otherwise, or not be asked. */
export function LimitFields({ setup, onChange }: LimitFieldsProps) {
  const { brief, draft, game } = setup;
  const limits = limitsOf({ brief, recipe: draft, game });
  const own = limits.filter((limit) => limit.own).length;
  const set = (name: LimitName, value: number | null) => onChange({ limits: { ...brief.limits, [name]: value } });
  const back = (name: LimitName) => {
    const others = Object.entries(brief.limits).filter(([limit]) => limit !== name);
    onChange({ limits: Object.fromEntries(others) });
  };
  return (
    <details className="limit-fields">
      <summary>
        Limits, by which recipes and takes are judged{' '}
        <span className="soft">{own ? `${own} set by you` : 'all follow from the answers'}</span>
      </summary>
      <ul>
        {limits
          .filter(({ name }) => limitFacts[name].field)
          .map((limit) => (
            <li key={limit.name}>
              <LimitField limit={limit} onSet={(value) => set(limit.name, value)} onBack={() => back(limit.name)} />
            </li>
          ))}
      </ul>
    </details>
  );
}

/** What a limit that was not asked begins with: a tenth of the way. */
const startOf = (most: number, least: number, shown: number): number => (least + (most - least) / 10) / shown;

interface LimitFieldProps {
  limit: Limit;
  onSet: (value: number | null) => void;
  onBack: () => void;
}

function LimitField({ limit: { name, value, answer, own }, onSet, onBack }: LimitFieldProps) {
  const { words, meaning, better, field } = limitFacts[name];
  if (!field) return null;
  const { unit, shown, least, most, step } = field;
  const decimals = Math.max(1, Math.ceil(-Math.log10(step)));
  return (
    <>
      <span title={meaning}>
        <b>{words}</b>{' '}
        <span className="small soft">
          {own ? 'set by you' : value === null ? 'not asked' : questionOfAnswer(answer)}
        </span>
      </span>
      <span className="limit-value">
        {value === null ? (
          <span className="soft">not asked</span>
        ) : (
          <>
            <span className="soft">at {better === 'less' ? 'most' : 'least'}</span>
            <NumberField
              label={`Limit: ${words}`}
              value={Number((value * shown).toFixed(decimals))}
              min={least}
              max={most}
              step={step}
              unit={unit}
              onChange={(next) => onSet(next / shown)}
            />
          </>
        )}
        {own ? (
          <button type="button" className="link small" onClick={onBack}>
            follow the answers
          </button>
        ) : value === null ? (
          <button type="button" className="link small" onClick={() => onSet(startOf(most, least, shown))}>
            ask it
          </button>
        ) : (
          <button type="button" className="link small" onClick={() => onSet(null)}>
            do not ask
          </button>
        )}
      </span>
    </>
  );
}
