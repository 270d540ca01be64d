import { isRouteErrorResponse, useRouteError } from 'react-router';
import { Button } from '../../parts/Button';

/** An address that leads nowhere, or a place that failed to draw. */
export function LostPlace() {
  const error = useRouteError();
  const failed = error !== undefined && error !== null && !isRouteErrorResponse(error);
  return (
    <div className="page" style={{ paddingTop: 64, display: 'grid', gap: 16, justifyItems: 'start' }}>
      <h1>{failed ? 'This place could not be drawn.' : 'There is nothing at this address.'}</h1>
      <p className="soft">
        {failed
          ? `Nothing recorded is touched by that. The reason: ${error instanceof Error ? error.message : 'unknown'}.`
          : 'It may have been removed, or the address is mistyped.'}
      </p>
      <Button main to="/">
        To Start
      </Button>
    </div>
  );
}
