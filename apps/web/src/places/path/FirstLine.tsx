import { forecastDifferences, forecastOf, formatPercent, type FirstStep } from '@mellow/core';
import type { Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { usePath, type PathState } from './pathContext';

/** Id of the rule or limit that the first line is about; what stops a take goes before every judgement. */
export const firstIdOf = ({ advice, judgement }: Pick<PathState, 'advice' | 'judgement'>): string | undefined =>
  advice.find(({ weight }) => weight === 'stops')?.id ?? judgement?.first?.id;

/** The one line that a forecast opens with: what to do next, why, and what it gains. */
export function FirstLine() {
  const { judgement, judgementIsCurrent, lastTrial, advice, outlookProblem } = usePath();
  const stop = advice.find(({ weight }) => weight === 'stops');
  if (stop) {
    const remedy = stop.remedies.find(({ recipe }) => recipe) ?? stop.remedies[0];
    const todo = remedy && !remedy.recipe && remedy.instruction ? ` ${remedy.instruction}` : '';
    const step = { id: stop.id, stops: true, title: stop.title, text: `${stop.text}${todo}` };
    return <Step step={{ ...step, label: remedy?.label ?? null, recipe: remedy?.recipe ?? null }} />;
  }
  if (!judgement)
    return (
      <div role="status">
        <h2>{outlookProblem ? 'Nothing can be foretold now' : 'Looking ten seconds ahead'}</h2>
        <p className="soft">
          {outlookProblem
            ? 'The simulation failed; a trial tells all the same.'
            : 'The recipe is simulated, and held against what the brief asks.'}
        </p>
      </div>
    );
  return (
    <div className={judgementIsCurrent ? '' : 'waiting'}>
      {judgement.first ? <Step step={judgement.first} /> : lastTrial ? <Tried trial={lastTrial} /> : <Untried />}
    </div>
  );
}

function Step({ step: { stops, title, text, label, recipe } }: { step: FirstStep }) {
  const { forecast, context, change, lastTrial } = usePath();
  const words = recipe ? forecastDifferences(forecast, forecastOf(recipe, context)).slice(0, 3).join(', ') : '';
  return (
    <div className="advice-head" role="status">
      <div>
        <h2 className={stops ? 'over' : undefined}>Next: {lowerFirst(title)}</h2>
        <p className="soft">
          {text}
          {words && ` ${words}.`}
        </p>
      </div>
      {recipe && label ? (
        <Button onClick={() => change(recipe)}>{label}</Button>
      ) : (
        lastTrial && <Button to={`/takes/${lastTrial.id}`}>See trial {lastTrial.number}</Button>
      )}
    </div>
  );
}

/** Nothing has to change by what is foretold and measured: what the last trial of this recipe still leaves open. */
function Tried({ trial }: { trial: Take }) {
  const { verdict, summary, number } = trial;
  const see = <Button to={`/takes/${trial.id}`}>See trial {number}</Button>;
  if (summary?.disturbed)
    return (
      <div className="advice-head" role="status">
        <div>
          <h2>Trial {number} does not count: make it again</h2>
          <p className="soft">
            Other programs used {formatPercent(summary.processor?.othersShare ?? 0)} of the processor, so it tells more
            about them than about this recipe. Close what is not needed first.
          </p>
        </div>
        {see}
      </div>
    );
  if (verdict?.mark === 'keep')
    return (
      <div role="status">
        <h2>Nothing has to change</h2>
        <p className="soft">
          Trial {number}: {verdict.sentence.replace('Keep it. ', '')} Repeat it unchanged to see how much equal recipes
          differ, or change one thing.
        </p>
      </div>
    );
  return (
    <div className="advice-head" role="status">
      <div>
        <h2>Next: make the trial again{verdict?.mark === 'unclear' ? ', and longer' : ''}</h2>
        <p className="soft">
          Trial {number} of this recipe: {verdict?.sentence}
        </p>
      </div>
      {see}
    </div>
  );
}

/** Never tried, and nothing foretold is beyond its limit: what a trial would settle. */
function Untried() {
  const { judgement } = usePath();
  const open = (judgement?.judged ?? []).filter(({ state, known }) => state === 'unclear' && known);
  const [first, ...others] = open;
  return (
    <div role="status">
      <h2>Next: make a trial of this recipe</h2>
      <p className="soft">
        {first
          ? `By the forecast every limit is likely to hold. ${first.name} is not certain: ${first.found}, ${first.asked} asked.${others.length ? ` Nor ${others.map(({ name }) => name.toLowerCase()).join(', ')}.` : ''} Ten seconds settle it.`
          : 'By the forecast every limit of the brief holds. Ten seconds tell whether it is so, and narrow the ranges.'}
      </p>
    </div>
  );
}

function lowerFirst(text: string): string {
  return (/^[A-Z]{2}/.test(text) ? text : text.charAt(0).toLowerCase() + text.slice(1)).replace(/\.$/, '');
}
