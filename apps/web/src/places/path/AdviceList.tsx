import { useState } from 'react';
import { countWord, capitalised, type Advice } from '@mellow/core';
import type { PathPlaceName } from '@mellow/model';
import { Button } from '../../parts/Button';
import { stationWords } from '../../parts/Ribbon';
import { usePath } from './pathContext';
import { gainOf } from './remedyGain';

const shownFirst = 1;
const weightWords = {
  stops: 'nothing can be recorded',
  risk: 'the take is at risk',
  cost: 'costs the game or room',
  note: 'good to know',
} as const;

/** Advice, worst first and the chosen station's before the others of one weight; each remedy is one press, and Undo takes it back. */
export function AdviceList({ station, shownAlready }: { station: PathPlaceName; shownAlready?: string | undefined }) {
  const { advice } = usePath();
  const [all, setAll] = useState(false);
  const sorted = advice
    .filter((item) => item.id !== shownAlready)
    .sort((a, b) => (a.weight === b.weight ? Number(b.station === station) - Number(a.station === station) : 0));
  if (!sorted.length)
    return (
      <p className="soft advice-none">
        {advice.length ? 'No other rule has' : 'No rule has'} anything to say against this recipe.
      </p>
    );
  return (
    <section aria-label="Advice" className="advice-list">
      {(all ? sorted : sorted.slice(0, shownFirst)).map((item) => (
        <AdviceItem key={item.id} item={item} />
      ))}
      {sorted.length > shownFirst && (
        <button type="button" className="link" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'Less advice' : `${capitalised(countWord(sorted.length - shownFirst))} more to look at`}
        </button>
      )}
    </section>
  );
}

function AdviceItem({ item }: { item: Advice }) {
  const { forecast, change } = usePath();
  return (
    <article className={`advice-item ${item.weight}`}>
      <div>
        <h3>{item.title}</h3>
        <p className="soft small">
          {stationWords[item.station]}, {weightWords[item.weight]}. {item.text}
        </p>
        {item.remedies
          .filter((r) => r.instruction)
          .map((r) => (
            <p key={r.label} className="small">
              <b>{r.label}.</b> {r.instruction}
            </p>
          ))}
      </div>
      {item.remedies
        .filter((r) => r.recipe)
        .map((r) => (
          <div key={r.label} className="advice-remedy">
            <Button onClick={() => r.recipe && change(r.recipe)}>{r.label}</Button>
            {gainOf(forecast, r) && <span className="small soft">{gainOf(forecast, r)}</span>}
          </div>
        ))}
    </article>
  );
}
