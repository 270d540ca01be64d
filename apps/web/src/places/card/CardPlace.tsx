import { useMemo, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import {
  cardMachineWords,
  cardMarkdown,
  fitCard,
  forecastOf,
  formatSize,
  purposeWords,
  recipeCardOf,
  settingFacts,
  type ForecastContext,
} from '@mellow/core';
import { recipeCardSchema, type CardReport, type Recipe, type RecipeCard } from '@mellow/model';
import { useForecastContext } from '../../forecast/useForecastContext';
import { useStartReasons } from '../../forecast/useStartReasons';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Message } from '../../parts/Message';
import { useDrivesQuery, useMachinesQuery, useSetDraftMutation } from '../../store/api';
import { QueryGate } from '../shell/QueryGate';
import { useSetup } from '../shell/SetupFrame';
import { cardPicture } from './cardPicture';
import { saveFile } from './saveFile';
import { QuietHeading } from '../../parts/QuietHeading';
import './Card.css';

/** The recipe card: one page to share, and the way a card of somebody else comes in. */
export function CardPlace() {
  const { setup, trials } = useSetup();
  const machines = useMachinesQuery();
  const drives = useDrivesQuery();
  const context = useForecastContext(setup, trials);
  return (
    <QueryGate queries={[machines, drives]} what="Reading machine and drives">
      {() => (context ? <CardView context={context} /> : null)}
    </QueryGate>
  );
}

type Brought = { card: RecipeCard; recipe: Recipe; report: CardReport } | { problem: string };

function CardView({ context }: { context: ForecastContext }) {
  const { setup, tools } = useSetup();
  const [setDraft] = useSetDraftMutation();
  const [brought, setBrought] = useState<Brought | null>(null);
  const [taken, setTaken] = useState<string | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const reasons = useStartReasons(setup, context, setup.draft.driveId);
  const card = useMemo(() => {
    const recipe = setup.draft;
    // A reason holds for the value the brief leads to; one that was changed since says so.
    const own = reasons.map((r) =>
      settingFacts[r.setting].words(recipe) === settingFacts[r.setting].words(setup.start)
        ? r
        : { ...r, text: `Set by hand; the brief leads to ${settingFacts[r.setting].words(setup.start)}.` },
    );
    return recipeCardOf({
      name: setup.name,
      madeAt: new Date().toISOString(),
      recipe,
      context,
      forecast: forecastOf(recipe, context),
      reasons: own,
    });
  }, [setup, context, reasons]);
  const name = setup.name.replace(/[^\p{Letter}\p{Number} -]/gu, '').trim() || 'recipe';
  const bringIn = async (file: File | undefined) => {
    if (!file) return;
    setTaken(null);
    setBrought(readCard(await file.text(), file.name, context, setup.draft));
  };
  return (
    <>
      {tools &&
        createPortal(
          <>
            <Button quiet onClick={() => picker.current?.click()}>
              <Icon name="upload" />
              Bring in a card
            </Button>
            <Button quiet onClick={() => window.print()}>
              <Icon name="print" />
              Print
            </Button>
            <Button quiet onClick={() => void cardPicture(card).then((blob) => saveFile(`${name}.png`, blob))}>
              PNG
            </Button>
            <Button
              quiet
              onClick={() => saveFile(`${name}.md`, new Blob([cardMarkdown(card)], { type: 'text/markdown' }))}
            >
              Markdown
            </Button>
            <Button
              main
              onClick={() =>
                saveFile(`${name}.json`, new Blob([`${JSON.stringify(card, null, 2)}\n`], { type: 'application/json' }))
              }
            >
              <Icon name="download" />
              JSON
            </Button>
          </>,
          tools,
        )}
      <input
        ref={picker}
        type="file"
        accept="application/json,.json"
        aria-label="Card to bring in"
        className="visually-hidden"
        onChange={(event) => {
          void bringIn(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      {taken && (
        <Message tone="note" title={taken} actions={<Button to="../path">To Path</Button>}>
          Undo on Path takes it back.
        </Message>
      )}
      {brought && 'problem' in brought && (
        <Message
          tone="loss"
          title="The card could not be read"
          actions={<Button onClick={() => setBrought(null)}>Put away</Button>}
        >
          {brought.problem}
        </Message>
      )}
      {brought && 'card' in brought && (
        <section className="sheet card-report" aria-label="The card that was brought in">
          <h2>
            “{brought.card.name}”, made for {cardMachineWords(brought.card.machine)}
          </h2>
          {brought.report.length ? (
            <ul>
              {brought.report.map((line) => (
                <li key={line.setting}>
                  <b>{line.setting}.</b> <span className="soft">{line.text}</span>
                </li>
              ))}
            </ul>
          ) : (
            <p className="soft">Everything in it fits here.</p>
          )}
          <p className="row">
            <Button
              main
              onClick={() => {
                void setDraft({ id: setup.id, recipe: brought.recipe });
                setTaken(`The recipe of “${brought.card.name}” is the draft now.`);
                setBrought(null);
              }}
            >
              Use it as the draft
            </Button>
            <Button onClick={() => setBrought(null)}>Leave it</Button>
          </p>
        </section>
      )}
      <CardPage card={card} />
    </>
  );
}

function readCard(
  text: string,
  fileName: string,
  context: ForecastContext,
  { driveId, source, sounds, camera }: Recipe,
): Brought {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return {
      problem: `${fileName} is no JSON. A recipe card saved as JSON can be brought in; Markdown and pictures are for reading.`,
    };
  }
  const parsed = recipeCardSchema.safeParse(json);
  if (!parsed.success) {
    const first = parsed.error.issues[0];
    return {
      problem: `${fileName} is no recipe card of this version: ${first ? `${first.path.join('.') || 'the file'}: ${first.message}` : 'it does not fit the schema'}. Nothing was changed.`,
    };
  }
  return {
    card: parsed.data,
    ...fitCard(parsed.data, {
      game: context.game,
      brief: context.brief,
      machine: context.machine,
      drives: context.drives,
      driveId,
      source,
      sounds,
      camera,
    }),
  };
}

function CardPage({ card }: { card: RecipeCard }) {
  return (
    <article className="sheet card-page">
      <header>
        <div>
          <h1>{card.name}</h1>
          <p className="soft">
            {purposeWords[card.brief.purpose].name} of {card.game.title}, played at{' '}
            {formatSize(card.game.widthPx, card.game.heightPx)}
            {card.game.capFps === null ? '' : `, cap ${card.game.capFps} fps`}
          </p>
        </div>
        <p className="soft small card-machine">
          made for {cardMachineWords(card.machine)}
          <br />
          {card.madeAt.slice(0, 10)}
        </p>
      </header>
      <div className="card-columns">
        <table>
          <thead>
            <tr>
              <th>setting</th>
              <th>value</th>
              <th>why</th>
            </tr>
          </thead>
          <tbody>
            {card.reasons.map((r) => (
              <tr key={r.setting}>
                <td className="soft">{r.setting}</td>
                <td>
                  <b>{r.value}</b>
                </td>
                <td className="small soft">{r.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <table>
          <thead>
            <tr>
              <th>forecast</th>
              <QuietHeading name="value" />
            </tr>
          </thead>
          <tbody>
            {card.forecast.map((f) => (
              <tr key={f.name}>
                <td className="soft">{f.name}</td>
                <td>
                  <b>{f.value}</b>
                  <br />
                  <span className="small soft">{f.origin}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </article>
  );
}
