import { useMemo, useState } from 'react';
import { createPortal } from 'react-dom';
import {
  adviceFor,
  bytesPerHour,
  bytesParts,
  forecastOf,
  formatBytes,
  formatRoom,
  hoursOfRoom,
  recipeDifferences,
  seedOf,
  settingFacts,
  type ForecastContext,
  type SettingKey,
} from '@mellow/core';
import { pathPlaces, type Recipe } from '@mellow/model';
import { useForecastContext } from '../../forecast/useForecastContext';
import { useOutlook } from '../../forecast/useOutlook';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Origin } from '../../parts/Origin';
import { Ribbon } from '../../parts/Ribbon';
import { useDrivesQuery, useMachinesQuery, useSetDraftMutation, useUndoDraftMutation } from '../../store/api';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { stationChosen, trialLengthSet } from '../../store/uiSlice';
import { QueryGate } from '../shell/QueryGate';
import { useSetup } from '../shell/SetupFrame';
import { useKeys } from '../shell/useKeys';
import { TrialRows } from '../trials/TrialRows';
import { useTrial } from '../trials/useTrial';
import { ForecastPanel } from './ForecastPanel';
import { ribbonOf } from './forecastRibbon';
import { lastTrialOf, measuredIn } from './lastTrial';
import { PathContext, usePath, type Considered, type PathState } from './pathContext';
import { soundWords } from './pathWords';
import { StationSheet } from './StationSheet';
import { TenSeconds } from './TenSeconds';
import { VersionsDialog } from './VersionsDialog';
import './Path.css';

const trialLengths = [4, 6, 10, 20, 30, 60, 120, 300];

/** Path: the recipe along the frame path, its forecast, and the way to a trial. */
export function PathPlace() {
  const { setup, trials } = useSetup();
  const machines = useMachinesQuery();
  const drives = useDrivesQuery();
  const context = useForecastContext(setup, trials);
  return (
    <QueryGate queries={[machines, drives]} what="Reading machine and drives">
      {() => (context ? <Path key={setup.id} context={context} /> : null)}
    </QueryGate>
  );
}

/** Everything the parts of Path share, from the setup, the server's lists and the simulation. */
function usePathState(context: ForecastContext): PathState {
  const { setup, trials, takes } = useSetup();
  const { data: machines = [] } = useMachinesQuery();
  const { data: drives = [] } = useDrivesQuery();
  const [setDraft] = useSetDraftMutation();
  const [considered, setConsidered] = useState<Considered | null>(null);
  const recipe = setup.draft;
  const forecast = useMemo(() => forecastOf(recipe, context), [recipe, context]);
  const advice = useMemo(() => adviceFor(recipe, context, forecast), [recipe, context, forecast]);
  const lastTrial = useMemo(() => lastTrialOf(recipe, trials), [recipe, trials]);
  const measured = useMemo(() => measuredIn(lastTrial), [lastTrial]);
  const outlook = useOutlook(recipe, considered?.recipe ?? null, context, seedOf(setup.game, setup.id), measured);
  return {
    setup,
    recipe,
    trials,
    samples: takes.filter(({ kind, facts, filePath }) => kind === 'sample' && facts !== null && filePath !== ''),
    drives,
    machines,
    machine: context.machine,
    context,
    forecast,
    advice,
    outlook: outlook.reply,
    outlookIsCurrent: outlook.current,
    outlookProblem: outlook.problem,
    judgement: outlook.judgement,
    judgementIsCurrent: outlook.judgementIsCurrent,
    lastTrial,
    considered,
    change: (next: Recipe) => {
      setConsidered(null);
      void setDraft({ id: setup.id, recipe: next });
    },
    consider: (key: SettingKey, next: Recipe | null) =>
      setConsidered(next && { key, words: settingFacts[key].words(next), recipe: next }),
  };
}

function Path({ context }: { context: ForecastContext }) {
  const path = usePathState(context);
  const { setup, recipe, forecast, trials } = path;
  const { tools } = useSetup();
  const dispatch = useAppDispatch();
  const station = useAppSelector((state) => state.ui.station);
  const lengthS = useAppSelector((state) => state.ui.trialLengthS);
  const [undoDraft] = useUndoDraftMutation();
  const trial = useTrial(setup);
  const [versions, setVersions] = useState(false);
  const make = () => void (trial.blocked || trial.make(lengthS));
  const step = (by: number) =>
    dispatch(
      stationChosen(pathPlaces[(pathPlaces.indexOf(station) + by + pathPlaces.length) % pathPlaces.length] ?? 'encode'),
    );
  useKeys({
    t: make,
    u: () => void (setup.undoDepth > 0 && undoDraft(setup.id)),
    '[': () => step(-1),
    ']': () => step(1),
  });
  return (
    <PathContext value={path}>
      {tools &&
        createPortal(
          <>
            <button type="button" className="clip draft-words" onClick={() => setVersions(true)}>
              <DraftWords recipe={recipe} versions={setup.versions} />
            </button>
            <Button quiet to="../card" label="Recipe card">
              <Icon name="print" />
              Card
            </Button>
            <Button quiet disabled={setup.undoDepth === 0} onClick={() => void undoDraft(setup.id)}>
              <Icon name="undo" />
              Undo
            </Button>
            <label className="trial-length">
              <span className="visually-hidden">Length of the trial</span>
              <select
                className="pick"
                value={lengthS}
                onChange={(event) => dispatch(trialLengthSet(Number(event.target.value)))}
              >
                {trialLengths.map((s) => (
                  <option key={s} value={s}>
                    {s < 120 ? `${s} s` : `${s / 60} min`}
                  </option>
                ))}
              </select>
            </label>
            <Button main disabled={trial.blocked} busy={trial.busy} onClick={make}>
              Make a trial <kbd>T</kbd>
            </Button>
          </>,
          tools,
        )}
      <h1 className="visually-hidden">Path of {setup.name}</h1>
      <Ribbon
        stations={ribbonOf(path)}
        sound={soundWords(recipe)}
        selected={station}
        onSelect={(name) => dispatch(stationChosen(name))}
        outcome={<Outcome />}
      />
      <section className="sheet path-sheet" aria-label={`${station} settings`}>
        <div className="path-sheet-left">
          <StationSheet station={station} />
        </div>
        <div className="path-sheet-right">
          <ForecastPanel station={station} />
        </div>
      </section>
      <TenSeconds />
      <section className="path-trials">
        <div className="row">
          <h2>Trials of this setup</h2>
          <span className="soft">what differed, and what came of it</span>
          {trials.length > 3 && (
            <span className="push">
              <Button quiet to="../trials">
                All {trials.length}
              </Button>
            </span>
          )}
        </div>
        <TrialRows trials={trials} most={3} />
      </section>
      {versions && <VersionsDialog onClose={() => setVersions(false)} />}
      <span className="visually-hidden" role="status">
        {forecast.basis}
      </span>
    </PathContext>
  );
}

/** "Draft, from recipe 7: quality 20 to 18", or the number it already has. */
function DraftWords({ recipe, versions }: { recipe: Recipe; versions: { number: number; recipe: Recipe }[] }) {
  const same = versions.filter((v) => JSON.stringify(v.recipe) === JSON.stringify(recipe)).pop();
  const last = versions[versions.length - 1];
  if (same)
    return (
      <>
        <span className="soft">Recipe</span> <span className="n">{same.number}</span>
        <span className="soft">{same === last ? ', unchanged' : ', an earlier one'}</span>
      </>
    );
  if (!last) return <span className="soft">First recipe, not tried yet</span>;
  const words = recipeDifferences(last.recipe, recipe);
  return (
    <span className="soft" title={words.join(', ')}>
      Draft, from recipe <span className="n">{last.number}</span>: {words.slice(0, 2).join(', ')}
      {words.length > 2 ? ` and ${words.length - 2} more` : ''}
    </span>
  );
}

function Outcome() {
  const { recipe, forecast, outlook, outlookIsCurrent } = usePath();
  const { bits, drive } = forecast;
  // The MP4 made afterwards needs as much room again.
  const room = drive && drive.freeBytes !== null ? drive.freeBytes / (recipe.rewrap ? 2 : 1) : null;
  const size = bytesParts(bytesPerHour(bits.value));
  const misses = outlook?.predicted.missesPerMinute.value ?? null;
  return (
    <>
      <h2 className="h3">The file</h2>
      <p className="big out-size">
        <Origin
          origin={bits.origin}
          from={bits.from}
          range={`${formatBytes(bytesPerHour(bits.low))} to ${formatBytes(bytesPerHour(bits.high))} an hour`}
        >
          {size.value}
        </Origin>
        <span className="unit">{size.unit} per hour</span>
      </p>
      <p className="out-row">
        <span className="soft clip" title={drive?.name}>
          {room === null ? 'room' : `room on ${drive?.name ?? ''}`}
        </span>
        <span className="n">{room === null ? '?' : formatRoom(hoursOfRoom(room, bits.value))}</span>
      </p>
      <p className={`out-row${outlookIsCurrent ? '' : ' waiting'}`}>
        <span className="soft">misses</span>
        <span className="n">
          {misses === null ? '?' : `${misses >= 100 ? misses.toFixed(0) : misses.toFixed(1)} /min`}
        </span>
      </p>
    </>
  );
}
