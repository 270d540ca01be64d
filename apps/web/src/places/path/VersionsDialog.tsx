import Dialog from '@mui/material/Dialog';
import { useState } from 'react';
import { forecastDifferences, forecastOf, recipeDifferences, recipeHeadline } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import { Button } from '../../parts/Button';
import { useKeepDraftMutation } from '../../store/api';
import { usePath } from './pathContext';
import { QuietHeading } from '../../parts/QuietHeading';

interface Shown {
  name: string;
  recipe: Recipe;
}

/** Every recipe of the setup: its number, what differed, its trials; two are compared, any is returned to. */
export function VersionsDialog({ onClose }: { onClose: () => void }) {
  const { setup, recipe, trials, context, change } = usePath();
  const [keep, keeping] = useKeepDraftMutation();
  const [pair, setPair] = useState<readonly string[]>([]);
  const { versions } = setup;
  const last = versions.at(-1) ?? null;
  const isKept = versions.some((v) => JSON.stringify(v.recipe) === JSON.stringify(recipe));
  const shown: Shown[] = [
    ...(isKept ? [] : [{ name: 'Draft', recipe }]),
    ...[...versions].reverse().map((v) => ({ name: `Recipe ${v.number}`, recipe: v.recipe })),
    { name: 'Start', recipe: setup.start },
  ];
  const choose = (name: string) =>
    setPair(pair.includes(name) ? pair.filter((n) => n !== name) : [...pair, name].slice(-2));
  const picked = shown.filter((s) => pair.includes(s.name)).reverse();
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="versions-title">
      <div className="dialog">
        <div className="row">
          <h2 id="versions-title">Recipes of {setup.name}</h2>
          <span className="soft">choose two to compare them</span>
        </div>
        <table className="versions">
          <thead>
            <tr>
              <QuietHeading name="number" />
              <th>recipe</th>
              <th>what it is</th>
              <th>trials</th>
              <QuietHeading name="actions" />
            </tr>
          </thead>
          <tbody>
            {shown.map(({ name, recipe: own }, i) => {
              const before = shown[i + 1];
              const number = /\d+/.exec(name)?.[0];
              const of = trials.filter((t) => number !== undefined && t.recipeVersion === Number(number));
              const words = before ? recipeDifferences(before.recipe, own) : [];
              return (
                <tr key={name}>
                  <td>
                    <input
                      type="checkbox"
                      aria-label={`Compare ${name}`}
                      checked={pair.includes(name)}
                      onChange={() => choose(name)}
                    />
                  </td>
                  <td className="versions-name">
                    <b>{name}</b>
                  </td>
                  <td>
                    {before && name !== 'Start'
                      ? words.length
                        ? words.join(', ')
                        : 'as the one before'
                      : recipeHeadline(own)}
                  </td>
                  <td className="n">
                    {of.map((t) => t.number).join(', ') || <span className="soft small">none</span>}
                  </td>
                  <td className="right">
                    {JSON.stringify(own) === JSON.stringify(recipe) ? (
                      <span className="soft small">in use</span>
                    ) : (
                      <Button
                        quiet
                        label={`Return to ${name}`}
                        onClick={() => {
                          change(own);
                          onClose();
                        }}
                      >
                        Return to it
                      </Button>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {picked[0] && picked[1] && (
          <Comparison
            from={picked[0]}
            to={picked[1]}
            words={forecastDifferences(forecastOf(picked[0].recipe, context), forecastOf(picked[1].recipe, context))}
          />
        )}
        <div className="dialog-actions">
          {!isKept && (
            <Button busy={keeping.isLoading} onClick={() => void keep(setup.id)}>
              Keep the draft as recipe {(last?.number ?? 0) + 1}
            </Button>
          )}
          <Button autoFocus onClick={onClose}>
            Close
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

function Comparison({ from, to, words }: { from: Shown; to: Shown; words: string[] }) {
  const settings = recipeDifferences(from.recipe, to.recipe);
  return (
    <section aria-label="Comparison">
      <h3>
        {from.name} to {to.name.toLowerCase()}
      </h3>
      <p>{settings.length ? settings.join(', ') : 'No setting that has an effect differs.'}</p>
      <p className="soft">In forecast: {words.length ? words.join(', ') : 'no difference'}.</p>
    </section>
  );
}
