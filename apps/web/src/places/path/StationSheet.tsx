import type { Forecast } from '@mellow/core';
import { formatMs } from '@mellow/core';
import type { DriveState, Machine, PathPlaceName, Recipe, Setup } from '@mellow/model';
import { stationWords } from '../../parts/Ribbon';
import { CaptureSettings } from './CaptureSettings';
import { DriveSettings } from './DriveSettings';
import { EncodeSettings } from './EncodeSettings';
import { GameSettings } from './GameSettings';
import { PackSettings } from './PackSettings';
import { SizeSettings } from './SizeSettings';
import { SoundSettings } from './SoundSettings';

export interface StationSettingsProps {
  setup: Setup;
  drives: DriveState[];
  machine: Machine | null;
  onRecipe: (recipe: Recipe) => void;
}

const settingsOf = {
  game: GameSettings, capture: CaptureSettings, size: SizeSettings, encode: EncodeSettings, pack: PackSettings, drive: DriveSettings, sound: SoundSettings,
} as const;

/** The chosen station's settings. */
export function StationSheet({ station, forecast, ...props }: StationSettingsProps & { station: PathPlaceName; forecast: Forecast }) {
  const Settings = settingsOf[station];
  const load = station === 'sound' ? null : (forecast.loadsFrom?.summary?.loads[station] ?? null);
  const from = forecast.loadsFrom;
  return (
    <>
      <div className="sheet-head">
        <h2>{stationWords[station]}</h2>
        <span className="soft">
          {load && from
            ? `${formatMs(load.busiestMs)} in the busiest 1 %, usually ${formatMs(load.usualMs)}, in trial ${from.number}${forecast.loadsAreOfThisRecipe ? '' : ' of another recipe'}`
            : station === 'sound'
              ? 'the lanes of the file, each with the sources that feed it'
              : 'its load is known after a trial'}
        </span>
      </div>
      <Settings {...props} />
    </>
  );
}
