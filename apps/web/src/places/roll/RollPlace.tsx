import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import {
  bytesParts,
  cameraWords,
  capitalised,
  formatCount,
  formatDuration,
  formatFpsNumber,
  framesPerSecond,
  hindsightWords,
  nothingToScale,
  periodUs,
  takeKindWords,
} from '@mellow/core';
import {
  lossFates,
  stationNames,
  type LiveTake,
  type Mark,
  type Recipe,
  type Setup,
  type Station,
  type TakeKind,
} from '@mellow/model';
import { Button } from '../../parts/Button';
import { HoldButton } from '../../parts/HoldButton';
import { Marks } from '../../parts/Marks';
import { Message } from '../../parts/Message';
import { RecorderShape, recorderShape, recorderWords } from '../../parts/RecorderShape';
import { Ribbon, type RibbonStation } from '../../parts/Ribbon';
import {
  useDrivesQuery,
  useMachineQuery,
  useAddMarkMutation,
  useMachinesQuery,
  usePauseMutation,
  useStopMutation,
} from '../../store/api';
import { useAppSelector } from '../../store/store';
import { soundWords, stationChoices } from '../path/pathWords';
import { StatePanel } from '../state/StatePanel';
import { useSetup } from '../shell/SetupFrame';
import { useKeys } from '../shell/useKeys';
import { LaneMeters } from './LaneMeters';
import { Ready } from './Ready';
import { LastMinute } from './LastMinute';
import { useKeep } from './useKeep';
import { Written } from './Written';
import './Roll.css';

/** Roll: the live path while a take is made. The page moves only with the recorder's events. */
export function RollPlace() {
  const { setup, takes } = useSetup();
  const live = useAppSelector((state) => state.live.state);
  const take = live?.take && live.take.setupId === setup.id ? live.take : null;
  useVerdictAfter(take?.takeId ?? null);
  if (!take) {
    const elsewhere = live?.take ? 'Another setup is rolling. It has to end first.' : null;
    return (
      <>
        <h1 className="visually-hidden">Roll {setup.name}</h1>
        <Ready setup={setup} takes={takes} elsewhere={elsewhere} />
      </>
    );
  }
  const made = takes.find((t) => t.id === take.takeId) ?? null;
  return (
    <Rolling
      setup={setup}
      take={take}
      recipe={made?.recipe ?? setup.draft}
      kind={made?.kind ?? 'trial'}
      marks={made?.marks ?? []}
      plays={made?.source.kind === 'sample' ? made.source.name : null}
      simulatedOn={made?.machine.origin === 'simulated' ? made.machine.name : null}
    />
  );
}

/** "Trial of 10 s, ends in 4 s", "Rolls until it is stopped". */
function lengthWords(kind: TakeKind, lengthS: number | null, seconds: number): string {
  if (lengthS === null) return 'Rolls until it is stopped.';
  const left = Math.max(0, lengthS - seconds);
  const words = (s: number): string => (s < 120 ? `${s.toFixed(0)} s` : formatDuration(s));
  return `${capitalised(takeKindWords[kind])} of ${words(lengthS)}, ends in ${words(left)}`;
}

/** When the take on this place has ended, its verdict follows. */
function useVerdictAfter(takeId: string | null): void {
  const navigate = useNavigate();
  const seen = useRef<string | null>(null);
  useEffect(() => {
    if (takeId) seen.current = takeId;
    else if (seen.current) void navigate(`/takes/${seen.current}`);
  }, [takeId, navigate]);
}

const troubleTitles: Record<LiveTake['troubles'][number]['who'], string> = {
  encoder: 'Nothing leaves the encoder',
  hindsight: 'The last minutes are not held',
  sound: 'A sound is missing',
  camera: 'The camera is missing',
};

const stateSentences: Record<string, string> = {
  preparing: 'Armed: the recorder opens its encoder and its file.',
  baseline: 'First the game alone, then the same passage while recording.',
  closing: 'Closing the file and reading it back.',
  'reading-back': 'The file is closed and whole; it is being read back.',
  rescuing: 'The recorder died; what reached the drive is being rescued.',
};

function Rolling({
  setup,
  take,
  recipe,
  kind,
  marks,
  plays,
  simulatedOn,
}: {
  setup: Setup;
  take: LiveTake;
  recipe: Recipe;
  kind: TakeKind;
  marks: readonly Mark[];
  /** The sample that stands for the game. */
  plays: string | null;
  simulatedOn: string | null;
}) {
  const { data: drives = [] } = useDrivesQuery();
  const { data: machine } = useMachineQuery();
  const { data: machines = [] } = useMachinesQuery();
  const [stop, stopping] = useStopMutation();
  const [pause] = usePauseMutation();
  const [addMark] = useAddMarkMutation();
  const quiet = useAppSelector(({ ui }) => ui.quiet);
  const rolling = take.state === 'rolling';
  const closing = take.state === 'closing' || take.state === 'reading-back' || take.state === 'rescuing';
  const paused = take.pausedS !== null;
  const live = { recorder: closing ? 'closing' : rolling ? 'rolling' : 'armed', take } as const;
  const turn = () => void (rolling && kind === 'full' && pause(!paused));
  const mark = () => void (rolling && addMark({}));
  const keeping = useKeep(rolling && (take.held?.heldS ?? 0) >= 1);
  useKeys({ m: mark, l: keeping.keep, p: turn });
  const drive = drives.find((d) => d.id === recipe.driveId) ?? null;
  const standIn = machines.find((m) => m.id === setup.machineId)?.drives.find((d) => d.id === recipe.driveId);
  const choices = stationChoices(recipe, setup.game, drive ?? (standIn ? { ...standIn, simulated: true } : null));
  const budget = periodUs(recipe.rate) / 1000;
  const stations = Object.fromEntries(
    stationNames.map((name): [Station, RibbonStation] => {
      // What this PC needs to encode for a simulated one says nothing about that one.
      const load = simulatedOn ? null : take.loads[name];
      const known =
        load && load.meanMs !== null && load.busiestMs !== null
          ? { usual: load.meanMs, busiest: load.busiestMs, budget: name === 'drive' ? 1000 : budget }
          : null;
      return [
        name,
        {
          what:
            name === 'game' && take.gameFps && !simulatedOn
              ? `${setup.game.title}, ${take.gameFps.toFixed(0)} fps`
              : choices[name],
          load: known,
          unit: name === 'drive' ? 'ms/s' : 'ms',
          unknown: simulatedOn
            ? 'from the model, afterwards'
            : name === 'size' && nothingToScale(setup.game, recipe.size)
              ? 'no work here'
              : rolling
                ? 'in a second'
                : 'not rolling yet',
        },
      ];
    }),
  ) as Record<Station, RibbonStation>;
  const size = bytesParts(take.bytesWritten);
  const lost = lossFates.reduce((sum, fate) => sum + (take.fates[fate] ?? 0), 0);
  const seconds = take.elapsedUs / 1e6;
  const filedLastSecond = take.lastMinute[take.lastMinute.length - 2] ?? take.lastMinute[take.lastMinute.length - 1];
  return (
    <>
      <Ribbon
        stations={stations}
        sound={soundWords(recipe)}
        selected={null}
        flowing={rolling && !paused && !quiet}
        outcome={
          <>
            <h2 className="h3">The file</h2>
            <p className="big out-size">
              {size.value}
              <span className="unit">{size.unit} so far</span>
            </p>
            <p className="out-row">
              <span className="soft">on drive up to</span>
              <span className="n">{formatDuration(take.writtenUs / 1e6)}</span>
            </p>
            <p className="out-row">
              <span className="soft">lost so far</span>
              <span>
                <span className="n">{formatCount(lost)}</span> <span className="soft">of</span>{' '}
                <span className="n">{formatCount(take.due)}</span>
              </span>
            </p>
            <p className="out-row">
              <span className="soft">still open</span>
              <span className="n">{formatCount(take.unsettled)}</span>
            </p>
          </>
        }
      />
      {take.troubles.map(({ who, text }) => (
        <Message key={who} tone="loss" title={troubleTitles[who]}>
          {text}
        </Message>
      ))}
      <section className="sheet roll-sheet">
        <div className="roll-clock-side">
          <p className="row">
            <b className="roll-state">
              <RecorderShape shape={recorderShape(live)} />
              {recorderWords(live)}
            </b>
            <span className="soft">
              {takeKindWords[kind]} {take.number} of {setup.name}
              {plays && `, playing ${plays}`}
            </span>
          </p>
          <p className="roll-clock" role="timer" aria-label={`${formatDuration(seconds)} recorded`}>
            {formatDuration(seconds)}
          </p>
          <p className="soft" role="status">
            {take.pausedS !== null
              ? `For ${formatDuration(take.pausedS)}. Nothing of the pause will be in the file.`
              : rolling
                ? lengthWords(kind, take.lengthS, seconds)
                : take.state === 'baseline' && take.baselineLeftS > 0
                  ? `${stateSentences['baseline']} ${take.baselineLeftS.toFixed(0)} s left of it.`
                  : simulatedOn && take.state === 'preparing'
                    ? 'The first of two times: every due frame is encoded for its bytes.'
                    : (stateSentences[take.state] ?? '')}
          </p>
          {take.lengthS !== null && (
            <div className="roll-progress" aria-hidden="true">
              <i style={{ width: `${Math.min(100, (seconds / take.lengthS) * 100)}%` }} />
            </div>
          )}
          <div className="row roll-acts">
            <HoldButton hotkey="s" disabled={stopping.isLoading || closing} onHeld={() => void stop()}>
              Stop
            </HoldButton>
            {kind === 'full' && (
              <Button disabled={!rolling} onClick={turn}>
                {paused ? 'Go on' : 'Pause'} <kbd>P</kbd>
              </Button>
            )}
            <Button disabled={!rolling} onClick={mark}>
              Mark <kbd>M</kbd>
            </Button>
            {take.held && (
              <Button disabled={!rolling || take.held.heldS < 1} busy={keeping.busy} onClick={keeping.keep}>
                Keep the last {hindsightWords(take.held.lengthS)} <kbd>L</kbd>
              </Button>
            )}
          </div>
          <StatePanel source={recipe.source} />
        </div>
        <div className="roll-minute">
          {simulatedOn && (
            <Message tone="note" title={`Simulated on ${simulatedOn}`}>
              Its frames are really encoded here, twice and without a clock; times and losses come from the model when
              that is done.
            </Message>
          )}
          <div className="row">
            <h2>The last minute</h2>
            {filedLastSecond && (
              <span className="push">
                Filed <b className="n">{filedLastSecond[0] + filedLastSecond[1]}</b> of{' '}
                {formatFpsNumber(framesPerSecond(recipe.rate))} in the last second
              </span>
            )}
          </div>
          <LastMinute take={take} fps={framesPerSecond(recipe.rate)} />
        </div>
      </section>
      <div className="roll-below">
        <section>
          <LaneMeters take={take} recipe={recipe} />
          {take.camera && recipe.camera && (
            <p className={take.camera === 'away' ? '' : 'soft'} role="status">
              {capitalised(cameraWords(recipe.camera))}: {take.camera === 'away' ? <b>away, no pictures</b> : 'alive'}
            </p>
          )}
        </section>
        <section className="roll-written">
          <Written
            take={take}
            rate={recipe.rate}
            driveName={drive?.name}
            cores={machine?.cores ?? null}
            simulated={simulatedOn !== null}
          />
          {marks.length > 0 && (
            <div className="roll-marks">
              <Marks take={{ id: take.takeId, marks: [...marks] }} />
            </div>
          )}
        </section>
      </div>
    </>
  );
}
