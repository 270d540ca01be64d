import { createPortal } from 'react-dom';
import { bytesPerHour, bytesParts, forecastOf, formatRoom, hoursOfRoom, recipeClashes, recipeDifferences } from '@mellow/core';
import { pathPlaces, stationNames, type Recipe, type Station } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Ribbon, type RibbonStation } from '../../parts/Ribbon';
import { useDrivesQuery, useMachineQuery, useSetDraftMutation, useUndoDraftMutation } from '../../store/api';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { stationChosen, trialLengthSet } from '../../store/uiSlice';
import { useSetup } from '../shell/SetupFrame';
import { useKeys } from '../shell/useKeys';
import { TrialRows } from '../trials/TrialRows';
import { useTrial } from '../trials/useTrial';
import { Advice } from './Advice';
import { soundWords, stationChoices } from './pathWords';
import { StationSheet } from './StationSheet';
import './Path.css';

const trialLengths = [4, 6, 10, 20, 30, 60];

/** Path: the recipe along the frame path, its forecast, and the way to a trial. */
export function PathPlace() {
  const { setup, trials, tools } = useSetup();
  const dispatch = useAppDispatch();
  const station = useAppSelector((state) => state.ui.station);
  const { data: drives = [] } = useDrivesQuery();
  const { data: machine } = useMachineQuery();
  const [setDraft] = useSetDraftMutation();
  const [undoDraft] = useUndoDraftMutation();
  const trial = useTrial(setup);
  const lengthS = useAppSelector((state) => state.ui.trialLengthS);
  const recipe = setup.draft;
  const drive = drives.find((d) => d.id === recipe.driveId) ?? null;
  const forecast = forecastOf(recipe, trials);
  const clashes = recipeClashes(recipe);

  const change = (next: Recipe) => void setDraft({ id: setup.id, recipe: next });
  const make = () => void (trial.blocked || trial.make(lengthS));
  const step = (by: number) => {
    const at = pathPlaces.indexOf(station);
    dispatch(stationChosen(pathPlaces[(at + by + pathPlaces.length) % pathPlaces.length] ?? 'encode'));
  };
  useKeys({ t: make, u: () => void (setup.undoDepth > 0 && undoDraft(setup.id)), '[': () => step(-1), ']': () => step(1) });

  const choices = stationChoices(recipe, setup.game, drive);
  const stations = Object.fromEntries(
    stationNames.map((name): [Station, RibbonStation] => {
      const load = forecast.loadsFrom?.summary?.loads[name] ?? null;
      const plain = name === 'size' && choices.size.endsWith('nothing to scale');
      return [name, {
        what: choices[name],
        load: load && !plain ? { usual: load.usualMs, busiest: load.busiestMs, budget: load.budgetMs } : null,
        unit: name === 'drive' ? 'ms/s' : 'ms',
        unknown: plain ? 'no work here' : forecast.loadsFrom ? 'not measured' : trials.some((t) => t.summary) ? 'trials were disturbed' : 'no trial yet',
      }];
    }),
  ) as Record<Station, RibbonStation>;

  return (
    <>
      {tools &&
        createPortal(
          <>
            <span className="clip"><DraftWords recipe={recipe} versions={setup.versions} /></span>
            <Button quiet disabled={setup.undoDepth === 0} onClick={() => void undoDraft(setup.id)}><Icon name="undo" />Undo</Button>
            <label className="trial-length">
              <span className="visually-hidden">Length of the trial</span>
              <select className="pick" value={lengthS} onChange={(event) => dispatch(trialLengthSet(Number(event.target.value)))}>
                {trialLengths.map((s) => <option key={s} value={s}>{s} s</option>)}
              </select>
            </label>
            <Button main disabled={trial.blocked} busy={trial.busy} onClick={make}>Make a trial <kbd>T</kbd></Button>
          </>,
          tools,
        )}
      <Ribbon
        stations={stations}
        sound={soundWords(recipe)}
        selected={station}
        onSelect={(name) => dispatch(stationChosen(name))}
        outcome={<Outcome bits={forecast.bitsPerSecond?.value ?? null} freeBytes={drive?.freeBytes ?? null} driveName={drive?.name ?? null} note={forecast.originText} />}
      />
      <section className="sheet path-sheet" aria-label={`${station} settings`}>
        <div className="path-sheet-left">
          <StationSheet station={station} setup={setup} drives={drives} machine={machine ?? null} forecast={forecast} onRecipe={change} />
        </div>
        <div className="path-sheet-right">
          <Advice setup={setup} trials={trials} forecast={forecast} clashes={clashes} drive={drive} onRecipe={change} />
        </div>
      </section>
      <section className="path-trials">
        <div className="row">
          <h2>Trials of this setup</h2>
          <span className="soft">what differed, and what came of it</span>
          {trials.length > 3 && <span className="push"><Button quiet to="../trials">All {trials.length}</Button></span>}
        </div>
        <TrialRows trials={trials} most={3} />
      </section>
    </>
  );
}

/** "Draft, from recipe 7: quality 20 to 18", or the number it already has. */
function DraftWords({ recipe, versions }: { recipe: Recipe; versions: { number: number; recipe: Recipe }[] }) {
  const same = versions.filter((v) => JSON.stringify(v.recipe) === JSON.stringify(recipe)).pop();
  const last = versions[versions.length - 1];
  if (same) return <><span className="soft">Recipe</span> <span className="n">{same.number}</span><span className="soft">{same === last ? ', unchanged' : ', an earlier one'}</span></>;
  if (!last) return <span className="soft">First recipe, not tried yet</span>;
  const words = recipeDifferences(last.recipe, recipe);
  return <span className="soft" title={words.join(', ')}>Draft, from recipe <span className="n">{last.number}</span>: {words.slice(0, 2).join(', ')}{words.length > 2 ? ` and ${words.length - 2} more` : ''}</span>;
}

function Outcome({ bits, freeBytes, driveName, note }: { bits: number | null; freeBytes: number | null; driveName: string | null; note: string }) {
  const size = bits === null ? null : bytesParts(bytesPerHour(bits));
  return (
    <>
      <h3>The file</h3>
      {size ? <p className="big out-size">{size.value}<span className="unit">{size.unit} per hour</span></p> : <p className="big out-size soft">?<span className="unit">GB per hour</span></p>}
      {bits !== null && freeBytes !== null && (
        <p className="out-row"><span className="soft">room on {driveName}</span><span className="n">{formatRoom(hoursOfRoom(freeBytes, bits))}</span></p>
      )}
      <p className="small soft out-note">{note}</p>
    </>
  );
}
