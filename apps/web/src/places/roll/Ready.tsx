import { useMemo, useState } from 'react';
import {
  adviceFor,
  bindingsOf,
  bindingWords,
  bytesParts,
  bytesPerHour,
  capitalised,
  countWord,
  forecastOf,
  formatRoom,
  hoursOfRoom,
  lookTrouble,
  plural,
  readyLines,
  recipeClashes,
  type Advice,
  type ForecastContext,
  type ReadyLine,
} from '@mellow/core';
import { isGrabbed, type GrabbedSource, type KeyState, type Setup, type Take, type WorkingPlace } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Message } from '../../parts/Message';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { Ribbon } from '../../parts/Ribbon';
import { useWorkingQuery } from '../../store/driveApi';
import { useForecastContext } from '../../forecast/useForecastContext';
import { useDrivesQuery, useKeysQuery, useMachinesQuery, useSetDraftMutation } from '../../store/api';
import { ribbonOf } from '../path/forecastRibbon';
import { lastTrialOf } from '../path/lastTrial';
import { soundWords } from '../path/pathWords';
import { useLooks } from '../path/useLooks';
import { QueryGate } from '../shell/QueryGate';
import { useKeys } from '../shell/useKeys';
import { useLevels } from '../sound/useLevels';
import { StatePanel } from '../state/StatePanel';
import { useTrial } from '../trials/useTrial';
import { HindsightPanel } from './HindsightPanel';
import { clashesFor, KeyClashes, KeysPanel } from './KeysPanel';
import { StartLater } from './StartLater';
import { LaneMeters, type LanesNow } from './LaneMeters';

interface ReadyProps {
  setup: Setup;
  takes: readonly Take[];
  /** Why it cannot roll now, where another setup does. */
  elsewhere: string | null;
}

/** What is looked at before a take rolls, and the button that rolls. */
export function Ready(props: ReadyProps) {
  const machines = useMachinesQuery();
  const drives = useDrivesQuery();
  const context = useForecastContext(props.setup, props.takes);
  return (
    <QueryGate queries={[machines, drives]} what="Looking at machine and drives">
      {() => context && <Looked {...props} context={context} />}
    </QueryGate>
  );
}

function Looked({ setup, takes, elsewhere, context }: ReadyProps & { context: ForecastContext }) {
  const { draft: recipe } = setup;
  const { data: drives = [] } = useDrivesQuery();
  const [minutes, setMinutes] = useState<number | null>(recipe.ceilingMinutes);
  const { make, blocked, busy } = useTrial(setup, 'full');
  const tried = useMemo(
    () =>
      lastTrialOf(
        recipe,
        takes.filter(({ kind }) => kind === 'trial'),
      ),
    [recipe, takes],
  );
  const seen = useSeen(recipe.source, elsewhere === null);
  const forecast = useMemo(() => forecastOf(recipe, context), [recipe, context]);
  const urgent = useMemo(
    () => adviceFor(recipe, context, forecast).filter(({ weight }) => weight === 'stops' || weight === 'risk'),
    [recipe, context, forecast],
  );
  const freeBytes = drives.find(({ id }) => id === recipe.driveId)?.freeBytes ?? null;
  const { data: keys } = useKeysQuery();
  const { data: working } = useWorkingQuery();
  const [keysShown, setKeysShown] = useState(false);
  const simulated = context.machine?.origin === 'simulated';
  const { levels, trouble } = useLevels(
    { who: setup.id, sounds: recipe.sounds, lanes: recipe.lanes.map(({ sources }) => sources) },
    null,
    simulated || elsewhere !== null,
  );
  const lines = [
    ...readyLines(recipe, context, forecast, tried, seen, levels.now.sounds),
    ...(keys ? [keysLine(keys, setup)] : []),
    ...(working ? heldLine(setup, working) : []),
  ];
  const why = simulated
    ? `${context.machine?.name ?? 'This machine'} is simulated: a trial of it can be made, and nothing can be rolled.`
    : elsewhere;
  const stopped = why !== null || blocked || urgent.some(({ weight }) => weight === 'stops');
  const roll = () => void (stopped || make(minutes === null ? null : minutes * 60));
  useKeys({ r: roll });
  const lanes: LanesNow = {
    state: 'preparing',
    sounds: levels.now.sounds,
    lanePeakDbfs: levels.now.lanes.map((_, i) => levels.heldLanePeak(i)),
    laneLufs: levels.now.lanes.map(({ loudnessLufs }) => loudnessLufs),
  };
  const size = bytesParts(bytesPerHour(forecast.bits.value));
  return (
    <>
      <Ribbon
        stations={ribbonOf({ recipe, setup, forecast })}
        sound={soundWords(recipe)}
        selected={null}
        outcome={
          <>
            <h2 className="h3">The file, forecast</h2>
            <p className="big out-size">
              {size.value}
              <span className="unit">{size.unit} per hour</span>
            </p>
            <p className="out-row">
              <span className="soft">room</span>
              <span className="n">
                {freeBytes === null ? '?' : formatRoom(hoursOfRoom(freeBytes, forecast.bits.value))}
              </span>
            </p>
          </>
        }
      />
      <section className="sheet roll-sheet">
        <div className="roll-clock-side">
          <p className="row">
            <b className="roll-state">{elsewhere ? 'Busy' : 'Idle'}</b>
            <span className="soft">full take of {setup.name}</span>
          </p>
          <p className="roll-clock roll-clock-idle" aria-hidden="true">
            0:00:00
          </p>
          <div className="ready-roll">
            <Button main disabled={stopped} busy={busy} onClick={roll}>
              Roll <kbd>R</kbd>
            </Button>
          </div>
          <StartLater setup={setup} disabled={stopped} lengthS={minutes === null ? null : minutes * 60} />
          <div className="row">
            <Rail
              label="Stops by itself"
              hue="drive"
              value={minutes === null ? 'no' : 'after'}
              choices={[
                { value: 'no', label: 'until I stop it' },
                { value: 'after', label: 'stops by itself after' },
              ]}
              onChange={(value) => setMinutes(value === 'no' ? null : (minutes ?? setup.brief.sessionMinutes))}
            />
            {minutes !== null && (
              <NumberField
                label="Minutes of the take"
                value={minutes}
                min={1}
                max={1440}
                unit="min"
                onChange={setMinutes}
              />
            )}
          </div>
          {keys && (
            <p className="small soft">
              <button type="button" className="link" onClick={() => setKeysShown(true)}>
                Keys in the game
              </button>
              {keys.settings.on ? '' : ': not heard yet'}
            </p>
          )}
          {keys && keysShown && <KeysPanel state={keys} setup={setup} onClose={() => setKeysShown(false)} />}
          <StatePanel source={recipe.source} />
          {recipe.ceilingMinutes !== null && (
            <p className="small soft">
              The recipe’s ceiling of {plural(recipe.ceilingMinutes, 'minute')} holds as well.
            </p>
          )}
          {setup.sample && (
            <p className="small soft">Trials play {setup.sample.name}; a full take records the source itself.</p>
          )}
        </div>
        <div className="roll-minute">
          <div className="row">
            <h2>{headline(lines, urgent, why)}</h2>
            <span className="push soft">
              <b className="n">{lines.filter(({ fine }) => fine).length}</b> of {lines.length} looked at are fine
            </span>
          </div>
          {why && (
            <Message tone="note" title="It cannot roll now">
              {why}
            </Message>
          )}
          <Urgent setup={setup} advice={urgent} />
          {keys && <KeyClashes settings={keys.settings} setup={setup} clashes={clashesFor(keys, setup)} />}
          <ul className="ready-lines">
            {lines.map((line) => (
              <Line key={line.id} line={line} />
            ))}
          </ul>
        </div>
      </section>
      {!simulated && (
        <div className="roll-below">
          <section>
            <LaneMeters take={lanes} recipe={recipe} title="Alive now" />
            {trouble && <p className="small soft">{trouble}</p>}
          </section>
          <HindsightPanel
            setup={setup}
            bitsPerSecond={forecast.bits.value}
            memoryBytes={context.machine?.memoryBytes ?? 0}
            driveName={drives.find(({ id }) => id === (working?.driveId ?? recipe.driveId))?.name ?? 'the drive'}
          />
        </div>
      )}
    </>
  );
}

/** Held minutes wait in the working folder, which may be away; a take rolls without them then. */
function heldLine({ hindsight }: Setup, { problem }: WorkingPlace): ReadyLine[] {
  if (hindsight?.where !== 'drive' || !problem) return [];
  return [
    { id: 'held', name: 'Held minutes', found: 'the working folder is away: nothing would be held', fine: false },
  ];
}

/** What the keys do outside the page, and whether something else hears them. */
function keysLine(keys: KeyState, setup: Setup): ReadyLine {
  const line = { id: 'keys', name: 'Keys' };
  const { settings, listening, why } = keys;
  if (!settings.on) return { ...line, found: 'this page’s own only', fine: true };
  if (!listening) return { ...line, found: why ?? 'not heard', fine: false };
  const clash = clashesFor(keys, setup)[0];
  if (clash) return { ...line, found: 'something else hears them', fine: false };
  const { roll } = bindingsOf(settings, setup.id);
  const mine = settings.setupId === setup.id;
  return {
    ...line,
    found: roll && mine ? `${bindingWords(roll)} rolls and stops` : 'none rolls this setup',
    fine: true,
  };
}

/** A source of the screen is looked at once a second as long as nothing rolls: it would cost a take frames. */
function useSeen(source: Setup['draft']['source'], on: boolean) {
  const grabbed = isGrabbed(source);
  const { looks, problem } = useLooks(source as GrabbedSource, grabbed && on);
  if (!grabbed || (!looks.length && !problem)) return null;
  return { trouble: lookTrouble(looks), problem };
}

function headline(lines: readonly ReadyLine[], urgent: readonly Advice[], why: string | null): string {
  if (why || urgent.some(({ weight }) => weight === 'stops')) return 'Not ready';
  const open = urgent.length + lines.filter(({ fine }) => fine === false).length;
  if (open) return `Ready but for ${open === 1 ? 'one thing' : `${countWord(open)} things`}`;
  return lines.some(({ fine }) => fine === null) ? 'Ready, as far as it is known' : 'Ready';
}

/** What stops a take, or puts it at risk; each remedy is one press, and Undo on Path takes it back. */
function Urgent({ setup, advice }: { setup: Setup; advice: readonly Advice[] }) {
  const [setDraft] = useSetDraftMutation();
  const clashes = recipeClashes(setup.draft).map(({ id, title, text, remedy }) => ({
    id,
    title,
    text,
    remedies: [{ label: remedy.label, recipe: remedy.recipe }],
  }));
  const own = advice.filter(({ title }) => !clashes.some((clash) => clash.title === title));
  return [...clashes, ...own].map(({ id, title, text, remedies }) => (
    <Message
      key={id}
      tone="loss"
      title={title}
      actions={remedies.flatMap(({ label, recipe }) =>
        recipe
          ? [
              <Button key={label} onClick={() => void setDraft({ id: setup.id, recipe })}>
                {label}
              </Button>,
            ]
          : [],
      )}
    >
      {text}
    </Message>
  ));
}

const marks = { true: 'fine', false: 'not fine', null: 'not known' } as const;

function Line({ line: { name, found, fine } }: { line: ReadyLine }) {
  return (
    <li className={`ready-line${fine === false ? ' wrong' : ''}`}>
      <span className="ready-mark">
        {fine === null ? '?' : fine ? <Icon name="check" /> : '!'}
        <span className="visually-hidden">{marks[`${fine}`]}</span>
      </span>
      <span>{name}</span>
      <span className="push soft">{capitalised(found)}</span>
    </li>
  );
}
