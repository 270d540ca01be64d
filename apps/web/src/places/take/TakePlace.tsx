import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { fileOf, type Setup, type Take } from '@mellow/model';
import { againstTrial, capitalised, takeKindWords, takeName } from '@mellow/core';
import { Button } from '../../parts/Button';
import { DeleteTakeDialog } from '../../parts/DeleteTakeDialog';
import { Icon } from '../../parts/Icon';
import { Marks } from '../../parts/Marks';
import { Message } from '../../parts/Message';
import { Profile } from '../../parts/Profile';
import { SimulatedTag } from '../../parts/SimulatedTag';
import { useLookAgainMutation, useSetupsQuery, useTakeQuery, useTakesQuery } from '../../store/api';
import { QueryGate } from '../shell/QueryGate';
import { CopyLine } from './CopyLine';
import { CopyPath } from './CopyPath';
import { Facts } from './Facts';
import { Findings } from './Findings';
import { Parts } from './Parts';
import { Player, type PlayerHandle } from './Player';
import { TakeLog } from './TakeLog';
import { OpenFolder } from './OpenFolder';
import { Limits } from './Limits';
import { Predicted } from './Predicted';
import { RepeatTrial } from './RepeatTrial';
import { Rewrap } from './Rewrap';
import { Timeline } from './Timeline';
import './Take.css';

/** Take: the verdict in one sentence, facts, player, timeline, findings. */
export function TakePlace() {
  const { takeId = '' } = useParams();
  const take = useTakeQuery(takeId);
  const setups = useSetupsQuery();
  return (
    <QueryGate queries={[take, setups]} what="Reading the take">
      {() =>
        take.data ? (
          <TakeView
            key={take.data.id}
            take={take.data}
            setup={setups.data?.find((s) => s.id === take.data?.setupId) ?? null}
          />
        ) : null
      }
    </QueryGate>
  );
}

/** Nothing is lost, but something has to be there again first. */
function Waiting({ take }: { take: Take }) {
  const [lookAgain, { isLoading }] = useLookAgainMutation();
  return (
    <Message
      tone="note"
      title="It waits"
      actions={
        <Button quiet busy={isLoading} onClick={() => void lookAgain(take.id)}>
          Look for it again
        </Button>
      }
    >
      It is looked for again at each start. Bring its drive back, or end what stood in the way, then look at once.
    </Message>
  );
}

/** What the full take did otherwise than the trial it was prepared by. */
function AgainstTrial({ take }: { take: Take }) {
  const { data: takes = [] } = useTakesQuery();
  const against = againstTrial(take, takes);
  if (!against) return null;
  return (
    <p className="take-against">
      {against.sentence}{' '}
      <Link className="link" to={`/takes/${against.trial.id}`}>
        See trial {against.trial.number}
      </Link>
    </p>
  );
}

function TakeView({ take, setup }: { take: Take; setup: Setup | null }) {
  const navigate = useNavigate();
  const [deleting, setDeleting] = useState(false);
  const [timeS, setTimeS] = useState(0);
  const player = useRef<PlayerHandle>(null);
  const seek = (seconds: number) => player.current?.seek(seconds);
  const { verdict } = take;
  const camera = fileOf(take, 'camera');
  const when = new Date(take.createdAt).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });
  return (
    <div className="page">
      <div className="steps-line take-line">
        {setup ? (
          <Link className="soft quiet-link take-setup" to={`/setups/${setup.id}/trials`}>
            {setup.name}
          </Link>
        ) : (
          <span className="soft">a removed setup</span>
        )}
        <Icon name="right" />
        <b style={{ whiteSpace: 'nowrap' }}>{capitalised(takeName(take))}</b>
        <span className="soft clip" style={{ marginLeft: 8 }}>
          {when}, recipe {take.recipeVersion},{' '}
          {take.machine.origin === 'simulated'
            ? `times from the model of ${take.machine.name}`
            : `measured on ${take.demo ? 'the demo’s PC' : take.machine.name}`}
        </span>
        <SimulatedTag machine={take.machine} />
        <div className="steps-line-tools take-tools">
          <CopyPath path={take.filePath} />
          {take.filePath && <OpenFolder takeId={take.id} />}
          {camera && <CopyPath path={camera.path} what="camera’s file" />}
          <Rewrap take={take} />
          {take.summary && (
            <Button quiet href={`/api/takes/${take.id}/ledger.csv`} download>
              <Icon name="table" />
              Ledger, CSV
            </Button>
          )}
          <Button quiet onClick={() => setDeleting(true)}>
            <Icon name="trash" />
            Delete
          </Button>
          {setup && take.kind === 'trial' && <RepeatTrial take={take} setup={setup} />}
          {setup && (
            <Button main to={`/setups/${setup.id}/path`}>
              Change one thing
            </Button>
          )}
        </div>
      </div>
      <div className="take-head">
        <h1>
          {verdict?.sentence ??
            (take.kind === 'clip'
              ? 'This clip is kept. It is read back when nothing rolls.'
              : `This ${takeKindWords[take.kind]} is being made.`)}
        </h1>
        {take.summary && (
          <div className="take-profile">
            <Profile loads={take.summary.loads} width={96} />
            <p className="small soft">the busiest 1 % at each station, Game to Drive, against the budget</p>
          </div>
        )}
      </div>
      {take.kind === 'full' && <AgainstTrial take={take} />}
      <CopyLine take={take} />
      {!verdict && (
        <Message
          tone="note"
          title="No verdict yet"
          actions={
            <Button quiet to={`/setups/${take.setupId}/roll`}>
              See it live
            </Button>
          }
        >
          It follows when the file is closed and read back.
        </Message>
      )}
      {take.state === 'waiting' && <Waiting take={take} />}
      {take.facts ? (
        <>
          <div className="take-body">
            <Player ref={player} take={take} onTime={setTimeS} />
            <Facts take={take} />
            <Findings take={take} onJump={(us) => seek(us / 1e6)} />
          </div>
          <Limits take={take} />
          {take.summary && <Predicted take={take} />}
          <Parts take={take} onJump={seek} />
          {take.marks.length > 0 && (
            <section className="take-marks" aria-label="Marks">
              <h2>Marks</h2>
              <Marks take={take} onJump={seek} />
            </section>
          )}
          {take.summary && <Timeline take={take} timeS={timeS} onSeek={seek} onPlay={() => player.current?.toggle()} />}
        </>
      ) : (
        verdict && (
          <div className="take-body none">
            <Findings take={take} onJump={() => {}} />
          </div>
        )
      )}
      <TakeLog takeId={take.id} />
      {deleting && (
        <DeleteTakeDialog
          take={take}
          onClose={() => setDeleting(false)}
          onDeleted={() => void navigate(setup ? `/setups/${setup.id}/trials` : '/takes')}
        />
      )}
    </div>
  );
}
