import { Button } from '../../parts/Button';
import { Message } from '../../parts/Message';
import { noticePutAway, problemPutAway } from '../../store/liveSlice';
import { useAppDispatch, useAppSelector } from '../../store/store';

/** What happened to a take by itself, and what an action could not do. They stay until they are put away. */
export function Notices() {
  const { state, problems, noticeSeen, connected } = useAppSelector((root) => root.live);
  const dispatch = useAppDispatch();
  const notice = state?.notice ?? null;
  return (
    <div className="notices">
      {!connected && (
        <Message tone="loss" title="The program behind this page does not answer">
          A rolling take is closed by the recorder itself. Start Mellow Frame again; this page goes on by itself.
        </Message>
      )}
      {notice && notice.id > noticeSeen && (
        <Message
          tone={notice.tone}
          title={notice.title}
          actions={
            <>
              {notice.takeId && (
                <Button quiet to={`/takes/${notice.takeId}`}>
                  See the take
                </Button>
              )}
              <Button quiet onClick={() => dispatch(noticePutAway(notice.id))}>
                Put away
              </Button>
            </>
          }
        >
          {notice.text}
        </Message>
      )}
      {problems.map(({ id, problem }) => (
        <Message
          key={id}
          tone="loss"
          title={problem.title}
          actions={
            <Button quiet onClick={() => dispatch(problemPutAway(id))}>
              Put away
            </Button>
          }
        >
          {problem.detail}
        </Message>
      ))}
    </div>
  );
}
