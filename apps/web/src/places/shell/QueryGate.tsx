import type { ReactNode } from 'react';
import { Button } from '../../parts/Button';
import { LoadingPlace, Message } from '../../parts/Message';
import { problemOf } from '../../store/problemOf';

interface Query {
  isLoading: boolean;
  isError: boolean;
  error?: unknown;
  refetch: () => unknown;
}

/** Loading and error state of a place; its content when all it needs is there. */
export function QueryGate({
  queries,
  what,
  children,
}: {
  queries: readonly Query[];
  what: string;
  children: () => ReactNode;
}) {
  const failed = queries.find((query) => query.isError);
  if (failed) {
    const problem = problemOf(failed.error);
    return (
      <div className="page" style={{ paddingTop: 32 }}>
        <Message
          tone="loss"
          title={problem.title}
          actions={<Button onClick={() => queries.forEach((query) => query.refetch())}>Try again</Button>}
        >
          {problem.detail}
        </Message>
      </div>
    );
  }
  if (queries.some((query) => query.isLoading))
    return (
      <div className="page">
        <LoadingPlace what={what} />
      </div>
    );
  return <>{children()}</>;
}
