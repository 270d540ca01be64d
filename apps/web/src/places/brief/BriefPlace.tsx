import { useMemo, useState } from 'react';
import { createPortal } from 'react-dom';
import { plural, purposeWords, recipeDifferences } from '@mellow/core';
import { destinations, purposes, type Brief, type PracticeGame, type Setup } from '@mellow/model';
import { useForecastContext } from '../../forecast/useForecastContext';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Message } from '../../parts/Message';
import { TypedField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { Still } from '../../parts/Still';
import { WordEditor, WordMenu } from '../../parts/WordMenu';
import { useChangeSetupMutation, useDrivesQuery, useMachinesQuery, useSetDraftMutation } from '../../store/api';
import { GameSentence } from '../path/GameSentence';
import { QueryGate } from '../shell/QueryGate';
import { useSetup } from '../shell/SetupFrame';
import { Follows } from './Follows';
import { LimitFields } from './LimitFields';
import { EditorQuestion, FinerQuestions, MattersQuestion, SessionQuestion, ShownQuestion } from './BriefQuestions';
import { askedFor, destinationWords, finerQuestions, questionNames } from './questions';
import './Brief.css';

/** Brief: what the footage is for; what follows from it stands beside. */
export function BriefPlace() {
  const machines = useMachinesQuery();
  const drives = useDrivesQuery();
  return (
    <QueryGate queries={[machines, drives]} what="Reading machine and drives">
      {() => <BriefView />}
    </QueryGate>
  );
}

function BriefView() {
  const { setup, trials, tools } = useSetup();
  const { data: machines = [] } = useMachinesQuery();
  const [changeSetup] = useChangeSetupMutation();
  const [setDraft] = useSetDraftMutation();
  const context = useForecastContext(setup, trials);
  const [all, setAll] = useState(false);
  const { brief, game } = setup;
  const change = (part: Partial<Brief>) => void changeSetup({ id: setup.id, patch: { brief: { ...brief, ...part } } });
  const changeGame = (part: Partial<PracticeGame>) =>
    void changeSetup({ id: setup.id, patch: { game: { ...game, ...part } } });
  const machine = machines.find((m) => m.id === setup.machineId) ?? null;
  const asked = askedFor[brief.purpose];
  const left = finerQuestions.filter((q) => !asked.includes(q));
  const shown = trials.find((t) => t.facts) ?? null;
  const questions = { brief, onChange: change };
  const article = /^[aeiou]/i.test(purposeWords[brief.purpose].name) ? 'An' : 'A';
  return (
    <>
      {tools &&
        createPortal(
          <>
            <span className="soft">Answers are kept as you give them</span>
            <Button main to="../path">
              Go on to Path
            </Button>
          </>,
          tools,
        )}
      <div className="brief">
        <div className="brief-left">
          <h1
            aria-label={`${purposeWords[brief.purpose].name} of ${game.title} on ${machine?.id === 'this' ? 'this PC' : (machine?.name ?? 'a machine that is gone')} for ${destinationWords[brief.destination].short}`}
          >
            {brief.purpose === 'light' ? 'Footage, ' : `${article} `}
            <WordMenu
              label="Purpose"
              word={purposeWords[brief.purpose].name.toLowerCase()}
              value={brief.purpose}
              choices={purposes.map((p) => ({ value: p, label: purposeWords[p].name }))}
              onChange={(purpose) => change({ purpose })}
            />
            {brief.purpose === 'light' ? ', of ' : ' of '}
            <WordEditor label="Game" word={game.title}>
              {(close) => (
                <TypedField
                  wide
                  label="Title"
                  text={game.title}
                  parse={(text) =>
                    text.trim() && text.length <= 60
                      ? { value: text.trim() }
                      : { problem: 'A title has 1 to 60 signs.' }
                  }
                  onChange={(title) => {
                    changeGame({ title });
                    close();
                  }}
                />
              )}
            </WordEditor>
            {' on '}
            <WordMenu
              label="Machine"
              word={machine?.id === 'this' ? 'this PC' : (machine?.name ?? 'a machine that is gone')}
              open={machine === null}
              value={setup.machineId}
              choices={machines.map((m) => ({
                value: m.id,
                label: m.id === 'this' ? `This PC, ${m.name}` : `${m.name}, simulated`,
              }))}
              onChange={(machineId) => void changeSetup({ id: setup.id, patch: { machineId } })}
            />
            {' for '}
            <WordMenu
              label="Destination"
              word={destinationWords[brief.destination].short}
              value={brief.destination}
              choices={destinations.map((d) => ({ value: d, label: destinationWords[d].short }))}
              onChange={(destination) => change({ destination })}
            />
            .
          </h1>
          <div className="brief-game">
            <Still takeId={shown?.id ?? null} />
            <dl>
              <dt>Game</dt>
              <dd>
                <GameSentence game={game} drives={context?.drives ?? []} onChange={changeGame} />
              </dd>
              <dt>Machine</dt>
              <dd>
                {machine ? `${machine.cores} cores, ${machine.graphics?.name ?? 'graphics not known'}` : 'not there'}{' '}
                {machine?.origin === 'simulated' ? (
                  <span className="demo-tag">simulated</span>
                ) : machine && !machine.provenAt ? (
                  <Button quiet to="/machine">
                    not measured yet: measure it
                  </Button>
                ) : (
                  <span className="soft">measured</span>
                )}
              </dd>
            </dl>
          </div>
          <Question name="Purpose">
            <Rail
              label="Purpose"
              hue="accent"
              value={brief.purpose}
              choices={purposes.map((p) => ({ value: p, label: purposeWords[p].name.toLowerCase() }))}
              onChange={(purpose) => change({ purpose })}
            />
          </Question>
          <Question number={1} name="Shown">
            <ShownQuestion
              {...questions}
              game={game}
              file={setup.start.size}
              lines={all || asked.includes('shownLines')}
              fps={all || asked.includes('shownFps')}
            />
          </Question>
          <Question number={2} name="Session">
            {context && <SessionQuestion {...questions} setup={setup} context={context} />}
          </Question>
          <Question number={3} name="Editor">
            <EditorQuestion {...questions} />
          </Question>
          <Question number={4} name="Matters" hint="most first; drag, or Alt and arrows">
            <MattersQuestion {...questions} />
          </Question>
          <FinerQuestions
            {...questions}
            shown={finerQuestions.filter((q) => q !== 'shownLines' && q !== 'shownFps' && (all || asked.includes(q)))}
          />
          <LimitFields setup={setup} onChange={change} />
          <div className="brief-rest small soft">
            {left.length > 0 && (
              <p>
                {all
                  ? 'All questions are asked. '
                  : `Not asked for ${purposeWords[brief.purpose].name.toLowerCase()}: ${left.map((q) => questionNames[q]).join(', ')}. `}
                <button type="button" className="link small" onClick={() => setAll(!all)}>
                  {all ? 'Only those that matter' : 'Ask them all the same'}
                </button>
              </p>
            )}
            <p className="row">
              <span>Name of this setup</span>
              <TypedField
                wide
                label="Name of this setup"
                text={setup.name}
                parse={(text) =>
                  text.trim() && text.trim().length <= 60
                    ? { value: text.trim() }
                    : { problem: 'A name has 1 to 60 signs.' }
                }
                onChange={(name) => void changeSetup({ id: setup.id, patch: { name } })}
              />
            </p>
          </div>
        </div>
        <section className="sheet brief-right" aria-label="What follows">
          {context ? <Follows setup={setup} context={context} /> : null}
          <Use
            setup={setup}
            trials={trials.length}
            onUse={() => void setDraft({ id: setup.id, recipe: setup.start })}
          />
        </section>
      </div>
    </>
  );
}

function Question({
  number,
  name,
  hint,
  children,
}: {
  number?: number;
  name: string;
  hint?: string;
  children: React.ReactNode;
}) {
  return (
    <section className="brief-question" aria-label={name}>
      <p className="brief-name">
        <span className="answer">{number ? <i>{number}</i> : null}</span>
        <b>{name}</b>
        {hint && <span className="small soft">{hint}</span>}
      </p>
      <div className="brief-answer">{children}</div>
    </section>
  );
}

/** The first differences that are short enough to read at a glance. */
function differenceWords(words: readonly string[]): string {
  const short = words.filter((word) => word.length < 44).slice(0, 3);
  const left = words.length - short.length;
  return `${short.join(', ')}${left ? `${short.length ? ' and ' : ''}${plural(left, 'further setting')}` : ''}`;
}

/** The draft follows the answers until it is changed or tried; then taking them over is a step of its own. */
function Use({ setup, trials, onUse }: { setup: Setup; trials: number; onUse: () => void }) {
  const words = useMemo(() => recipeDifferences(setup.draft, setup.start), [setup.draft, setup.start]);
  if (!words.length)
    return (
      <p className="brief-use soft">
        The recipe on Path is this one.{trials ? '' : ' It follows your answers until you change or try it.'}
      </p>
    );
  return (
    <div className="brief-use">
      <Message
        tone="note"
        title={`Your recipe differs: ${differenceWords(words)}.`}
        actions={
          <Button onClick={onUse}>
            <Icon name="check" />
            Use these values
          </Button>
        }
      >
        {trials ? `${plural(trials, 'trial')} since. ` : ''}These values wait as a start; Undo on Path takes them back.
      </Message>
    </div>
  );
}
