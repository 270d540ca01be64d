import { formatMs, originText, resetStation, settingFacts, settingKeys } from '@mellow/core';
import type { PathPlaceName } from '@mellow/model';
import { Button } from '../../parts/Button';
import { stationWords } from '../../parts/Ribbon';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { allSettingsToggled } from '../../store/uiSlice';
import { CaptureSettings } from './CaptureSettings';
import { DriveSettings } from './DriveSettings';
import { EncodeSettings } from './EncodeSettings';
import { GameSettings } from './GameSettings';
import { PackSettings } from './PackSettings';
import { usePath } from './pathContext';
import { SizeSettings } from './SizeSettings';
import { SoundSettings } from './SoundSettings';

const settingsOf = {
  game: GameSettings,
  capture: CaptureSettings,
  size: SizeSettings,
  encode: EncodeSettings,
  pack: PackSettings,
  drive: DriveSettings,
  sound: SoundSettings,
} as const;

/** Settings behind "all": so many of the encoder's and of the game's. */
const encodeCount = settingKeys.filter((key) => settingFacts[key].station === 'encode').length;
const moreOf: Partial<Record<PathPlaceName, string>> = { encode: `All ${encodeCount} settings`, game: 'All 15 facts' };

/** The chosen station's settings. */
export function StationSheet({ station }: { station: PathPlaceName }) {
  const { forecast, recipe, setup, change } = usePath();
  const all = useAppSelector((state) => state.ui.allSettings);
  const dispatch = useAppDispatch();
  const Settings = settingsOf[station];
  const load = station === 'sound' ? null : forecast.loads[station];
  const more = moreOf[station];
  const reset = station === 'game' ? recipe : resetStation(recipe, setup.start, station);
  const moved = JSON.stringify(reset) !== JSON.stringify(recipe);
  const figure = (value: number): string => (load?.unit === 'MB/s' ? `${value.toFixed(1)} MB/s` : formatMs(value));
  return (
    <>
      <div className="sheet-head">
        <h2>{stationWords[station]}</h2>
        <span
          className="soft"
          title={load ? `${originText(load)}. Range ${figure(load.low)} to ${figure(load.high)}` : undefined}
        >
          {load
            ? `${figure(load.busiest)} in the busiest 1 %, usually ${figure(load.usual)}; ${load.origin}`
            : station === 'sound'
              ? 'the lanes of the file, each with the sources that feed it'
              : station === 'size'
                ? 'no work here: the pictures pass as they are'
                : 'its load is not known yet'}
        </span>
        <span className="sheet-head-actions">
          {moved && (
            <Button quiet onClick={() => change(reset)}>
              Back to start
            </Button>
          )}
          {more && (
            <button type="button" className="link" aria-expanded={all} onClick={() => dispatch(allSettingsToggled())}>
              {all ? 'Few settings' : more}
            </button>
          )}
        </span>
      </div>
      <Settings />
    </>
  );
}
