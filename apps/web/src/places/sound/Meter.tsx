import type { LevelZone } from '@mellow/core';

export const floorDb = -60;
/** Where a level lies on a meter, 0 to 1. */
export const shareOfDb = (db: number | null): number =>
  db === null ? 0 : Math.max(0, Math.min(1, (db - floorDb) / -floorDb));
const percent = (share: number): string => `${(share * 100).toFixed(2)}%`;

/** A level: the newest as a bar, the highest of the last seconds as a post, and where it should stand as a bracket over it. */
export function Meter({
  label,
  now,
  held,
  zone,
  faint,
}: {
  label: string;
  now: number | null;
  held: number | null;
  zone?: LevelZone;
  faint?: boolean;
}) {
  const words = held === null ? 'silent' : `peak ${held.toFixed(1)} dBFS`;
  return (
    <div className={`meter${faint ? ' faint' : ''}`} role="img" aria-label={`${label}: ${words}`}>
      {zone && (
        <i
          className="meter-zone"
          style={{
            left: percent(shareOfDb(zone.lowDbfs)),
            width: percent(shareOfDb(zone.highDbfs) - shareOfDb(zone.lowDbfs)),
          }}
        />
      )}
      <i className="meter-well" />
      <i className="meter-bar" style={{ width: percent(shareOfDb(now)) }} />
      <i className="meter-held" style={{ width: percent(shareOfDb(held)) }} />
      {held !== null && (
        <i className={`meter-post${held > -0.1 ? ' over' : ''}`} style={{ left: percent(shareOfDb(held)) }} />
      )}
    </div>
  );
}

const ticks = [-60, -48, -36, -24, -12, 0];

/** The scale under meters, dBFS. */
export function MeterScale() {
  return (
    <div className="meter-scale n small soft" aria-hidden="true">
      {ticks.map((db) => (
        <span key={db} style={{ left: percent(shareOfDb(db)) }}>
          {db === 0 ? '0' : `−${-db}`}
        </span>
      ))}
    </div>
  );
}
