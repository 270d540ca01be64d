import { useNavigate } from 'react-router';
import { formatBytes, takeName } from '@mellow/core';
import type { DriveState, Take } from '@mellow/model';

/** A shelf for each drive: a take's width is its size. */
export function Shelves({
  takes,
  drives,
  nameOf,
}: {
  takes: Take[];
  drives: DriveState[];
  nameOf: (setupId: string) => string;
}) {
  const navigate = useNavigate();
  const shelves = drives
    .map((drive) => ({
      drive,
      takes: takes
        .filter((t) => t.driveId === drive.id && t.facts)
        .sort((a, b) => (b.facts?.bytes ?? 0) - (a.facts?.bytes ?? 0)),
    }))
    .filter((shelf) => shelf.takes.length);
  if (!shelves.length) return null;
  const total = (list: Take[]) => list.reduce((sum, t) => sum + (t.facts?.bytes ?? 0), 0);
  return (
    <div className="shelves">
      {shelves.map(({ drive, takes: held }) => (
        <div key={drive.id} className="shelf" style={{ flexGrow: Math.max(1, Math.sqrt(total(held))) }}>
          <div className="shelf-board">
            {held.map((take) => (
              <button
                key={take.id}
                type="button"
                className="shelf-take"
                style={{
                  flexGrow: take.facts?.bytes ?? 1,
                  height: 34 + 22 * ((take.facts?.bytes ?? 0) / (held[0]?.facts?.bytes ?? 1)),
                }}
                title={`${nameOf(take.setupId)}, ${takeName(take)}: ${formatBytes(take.facts?.bytes ?? 0)}`}
                aria-label={`${nameOf(take.setupId)}, ${takeName(take)}`}
                onClick={() => void navigate(`/takes/${take.id}`)}
              />
            ))}
          </div>
          <p className="small">
            <b>{drive.name}</b>{' '}
            <span className="soft">
              {formatBytes(total(held))} of takes
              {drive.freeBytes === null
                ? `, ${drive.problem ?? 'not there'}`
                : `, ${formatBytes(drive.freeBytes)} free`}
            </span>
          </p>
        </div>
      ))}
      <span className="small soft shelf-note">width: size</span>
    </div>
  );
}
