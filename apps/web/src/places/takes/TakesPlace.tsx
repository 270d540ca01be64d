import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { capitalised, countWord, formatBytes, formatSeconds, takeName, verdictInShort } from '@mellow/core';
import { verdictMarks, type DriveState, type Setup, type Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { DeleteTakeDialog } from '../../parts/DeleteTakeDialog';
import { Losses } from '../../parts/Losses';
import { EmptyPlace, Message } from '../../parts/Message';
import { Profile } from '../../parts/Profile';
import { Rail } from '../../parts/Rail';
import { SimulatedTag } from '../../parts/SimulatedTag';
import { Still } from '../../parts/Still';
import { VerdictMark } from '../../parts/VerdictMark';
import {
  useBrokenTakesQuery,
  useDrivesQuery,
  useRemoveTakeMutation,
  useSetupsQuery,
  useTakesQuery,
} from '../../store/api';
import { QueryGate } from '../shell/QueryGate';
import { Discards } from './Discards';
import { Shelves } from './Shelves';
import { QuietHeading } from '../../parts/QuietHeading';
import './Takes.css';

const marks = ['any', ...verdictMarks] as const;
type MarkFilter = (typeof marks)[number];

/** Takes of all setups: find, play, check, delete. */
export function TakesPlace() {
  const takes = useTakesQuery();
  const setups = useSetupsQuery();
  const drives = useDrivesQuery();
  return (
    <QueryGate queries={[takes, setups, drives]} what="Reading the takes">
      {() => <Takes takes={takes.data ?? []} setups={setups.data ?? []} drives={drives.data ?? []} />}
    </QueryGate>
  );
}

/** Takes whose stored description cannot be read: the rest of the application works. */
function BrokenTakes() {
  const { data = [] } = useBrokenTakesQuery();
  const [remove] = useRemoveTakeMutation();
  return data.map(({ id, number, why }) => (
    <Message
      key={id}
      tone="loss"
      title={`Trial ${number} cannot be read`}
      actions={
        <Button quiet onClick={() => void remove(id)}>
          Take it off the list
        </Button>
      }
    >
      What is stored of it is broken: {why}. Its files were not touched and stay when it goes from the list.
    </Message>
  ));
}

function Takes({ takes, setups, drives }: { takes: Take[]; setups: Setup[]; drives: DriveState[] }) {
  const [params, setParams] = useSearchParams();
  const [deleted, setDeleted] = useState<Take | null>(null);
  const setupId = params.get('setup') ?? 'all';
  const mark = marks.find((m) => m === params.get('verdict')) ?? 'any';
  const set = (name: string, value: string, none: string) =>
    setParams(
      (before) => {
        if (value === none) before.delete(name);
        else before.set(name, value);
        return before;
      },
      { replace: true },
    );
  const shown = takes.filter(
    (t) => (setupId === 'all' || t.setupId === setupId) && (mark === 'any' || t.verdict?.mark === mark),
  );
  const bytes = takes.reduce((sum, t) => sum + (t.facts?.bytes ?? 0), 0);
  const nameOf = (id: string) => setups.find((s) => s.id === id)?.name ?? 'a removed setup';
  return (
    <div className="page">
      <div className="steps-line">
        <b>Takes</b>
        <span className="soft">of all setups</span>
      </div>
      <h1 style={{ margin: '8px 0 16px' }}>
        {takes.length
          ? `${capitalised(countWord(takes.length))} ${takes.length === 1 ? 'take holds' : 'takes hold'} ${formatBytes(bytes)}.`
          : 'No take yet.'}
      </h1>
      {takes.length === 0 ? (
        <EmptyPlace
          title="Nothing was recorded yet."
          action={
            <Button main to="/setups">
              To the setups
            </Button>
          }
        >
          Every trial and take lies here, with its verdict and its file.
        </EmptyPlace>
      ) : (
        <>
          <BrokenTakes />
          <Shelves takes={takes} drives={drives} nameOf={nameOf} />
          <Discards takes={takes} />
          <div className="takes-filter">
            <label>
              <span className="soft">Setup</span>{' '}
              <select className="pick" value={setupId} onChange={(event) => set('setup', event.target.value, 'all')}>
                <option value="all">all</option>
                {setups.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </select>
            </label>
            <span className="soft">Verdict</span>
            <Rail
              label="Verdict"
              hue="accent"
              value={mark}
              choices={marks.map((m) => ({ value: m, label: m === 'look' ? 'look again' : m }))}
              onChange={(m: MarkFilter) => set('verdict', m, 'any')}
            />
            <span className="soft push">{shown.length} shown</span>
          </div>
          <table className="takes-table">
            <thead>
              <tr>
                <QuietHeading name="picture" className="takes-thumb" />
                <th>take, newest first</th>
                <th>verdict</th>
                <th className="takes-profile">busiest 1 %</th>
                <th>lost</th>
                <th className="right">length</th>
                <th className="right">size</th>
                <th>file</th>
                <QuietHeading name="actions" />
              </tr>
            </thead>
            <tbody>
              {shown.map((take) => (
                <tr key={take.id}>
                  <td className="takes-thumb">
                    <Still takeId={take.facts ? take.id : null} width={88} />
                  </td>
                  <td>
                    <Link className="takes-link" to={`/takes/${take.id}`}>
                      {nameOf(take.setupId)}, {takeName(take)}
                    </Link>
                    {take.demo && (
                      <span className="demo-tag" style={{ marginLeft: 8 }}>
                        demo
                      </span>
                    )}{' '}
                    <SimulatedTag machine={take.machine} />
                    <br />
                    <span className="small soft">
                      {new Date(take.createdAt).toLocaleString('en-GB', {
                        day: 'numeric',
                        month: 'short',
                        hour: '2-digit',
                        minute: '2-digit',
                      })}
                      , recipe {take.recipeVersion}
                    </span>
                  </td>
                  <td>
                    <VerdictMark take={take} />
                    <br />
                    <span className="small soft takes-why">
                      {take.verdict ? verdictInShort(take.verdict) : take.endText}
                    </span>
                  </td>
                  <td className="takes-profile">
                    {take.summary ? (
                      <Profile loads={take.summary.loads} width={72} />
                    ) : (
                      <span className="small soft">not known</span>
                    )}
                  </td>
                  <td>
                    <Losses summary={take.summary} />
                  </td>
                  <td className="right n">
                    {take.facts?.picture.endUs ? formatSeconds(take.facts.picture.endUs / 1e6) : '0'}
                  </td>
                  <td className="right n">{take.facts ? formatBytes(take.facts.bytes) : '0'}</td>
                  <td>
                    {drives.find((d) => d.id === take.driveId)?.name ?? 'removed drive'},{' '}
                    {take.fileName.slice(take.fileName.lastIndexOf('.') + 1).toUpperCase()}
                  </td>
                  <td className="right">
                    <Button
                      quiet
                      label={`Delete ${nameOf(take.setupId)}, ${takeName(take)}`}
                      onClick={() => setDeleted(take)}
                    >
                      Delete
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {shown.length === 0 && (
            <p className="soft" style={{ padding: '24px 0' }}>
              No take fits this choice.{' '}
              <button type="button" className="link" onClick={() => setParams({}, { replace: true })}>
                Show all
              </button>
            </p>
          )}
        </>
      )}
      {deleted && <DeleteTakeDialog take={deleted} onClose={() => setDeleted(null)} />}
    </div>
  );
}
