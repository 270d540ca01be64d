import { stationWords as ownStations } from '@mellow/core';
import type { ReactNode } from 'react';
import { stationNames, type Figure, type PathPlaceName, type Station } from '@mellow/model';
import { EaseWord, easeOf, Gauge } from './Gauge';
import { Icon } from './Icon';
import { Origin } from './Origin';
import './Ribbon.css';

export const stationWords: Record<PathPlaceName, string> = { ...ownStations, sound: 'Sound' };

export interface RibbonStation {
  /** The present choice in a few words. */
  what: string;
  load: { usual: number; busiest: number; budget: number } | null;
  /** What stands under an unknown load. */
  unknown?: string;
  unit: string;
  /** Where the load comes from, and its range. */
  origin?: { origin: Figure['origin']; from: string; range: string };
}

export interface RibbonProps {
  stations: Record<Station, RibbonStation>;
  sound: { what: string; figure: string | null };
  selected: PathPlaceName | null;
  onSelect?: (station: PathPlaceName) => void;
  flowing?: boolean;
  outcome: ReactNode;
}

/** The frame path: six open columns on one line, the sound lane above them, and what comes out. */
export function Ribbon({ stations, sound, selected, onSelect, flowing, outcome }: RibbonProps) {
  return (
    <section className={`ribbon${flowing ? ' flowing' : ''}`} aria-label="Frame path">
      <div className={`ribbon-sound hue-sound${selected === 'sound' ? ' chosen' : ''}`}>
        <StationButton name="sound" selected={selected === 'sound'} onSelect={onSelect} />
        <span className="soft clip">{sound.what}</span>
        {sound.figure && <span className="n">{sound.figure}</span>}
        <i className="ribbon-sound-line" />
      </div>
      {stationNames.map((name) => (
        <StationColumn
          key={name}
          name={name}
          station={stations[name]}
          selected={selected === name}
          onSelect={onSelect}
        />
      ))}
      <div className="ribbon-outcome">{outcome}</div>
    </section>
  );
}

function StationButton({
  name,
  selected,
  onSelect,
}: {
  name: PathPlaceName;
  selected: boolean;
  onSelect: RibbonProps['onSelect'];
}) {
  const face = (
    <>
      <span className="station-disc">
        <Icon name={name} size={14} />
      </span>
      <b>{stationWords[name]}</b>
    </>
  );
  if (!onSelect) return <span className="station-head">{face}</span>;
  return (
    <button type="button" className="station-head" aria-pressed={selected} onClick={() => onSelect(name)}>
      {face}
    </button>
  );
}

function StationColumn({
  name,
  station,
  selected,
  onSelect,
}: {
  name: Station;
  station: RibbonStation;
  selected: boolean;
  onSelect: RibbonProps['onSelect'];
}) {
  const { load } = station;
  return (
    <div
      className={`station hue-${name}${selected ? ' chosen' : ''}`}
      onClick={onSelect ? () => onSelect(name) : undefined}
      data-station={name}
    >
      {selected && (
        <>
          <svg className="foot left" viewBox="0 0 12 12" aria-hidden="true">
            <path d="M0 12A12 12 0 0 0 12 0V13H0Z" stroke="none" />
            <path d="M0 11.500A11.500 11.500 0 0 0 11.500 0" fill="none" />
          </svg>
          <svg className="foot right" viewBox="0 0 12 12" aria-hidden="true">
            <path d="M12 12A12 12 0 0 1 0 0V13H12Z" stroke="none" />
            <path d="M12 11.500A11.500 11.500 0 0 1 .5 0" fill="none" />
          </svg>
        </>
      )}
      <div className="station-line">
        <StationButton name={name} selected={selected} onSelect={onSelect} />
        <i className="station-flow" />
        {name === 'drive' && (
          <svg className="station-end" width="8" height="12" viewBox="0 0 8 12" aria-hidden="true">
            <path d="M1 1l6 5-6 5" fill="none" stroke="var(--tick)" strokeWidth="1.5" strokeLinejoin="round" />
          </svg>
        )}
      </div>
      <p className="station-what">{station.what}</p>
      <Gauge hue={name} load={load} />
      <p className="station-load">
        {load ? (
          <>
            <span>
              <span className="n station-figure">
                {station.origin ? (
                  <Origin {...station.origin}>{load.busiest.toFixed(1)}</Origin>
                ) : (
                  load.busiest.toFixed(1)
                )}
              </span>{' '}
              <span className="soft small">
                of {load.budget.toFixed(load.budget >= 100 ? 0 : 1)} {station.unit}
              </span>
            </span>
            <EaseWord ease={easeOf(load.busiest, load.budget)} />
          </>
        ) : (
          <span className="soft small">{station.unknown ?? 'no trial yet'}</span>
        )}
      </p>
    </div>
  );
}
