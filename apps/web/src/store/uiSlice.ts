import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { PathPlaceName } from '@mellow/model';

interface UiSlice {
  station: PathPlaceName;
  trialLengthS: number;
  allSettings: boolean;
  keysShown: boolean;
  searchShown: boolean;
  /** While a take rolls the page draws once a second unless somebody looks at it, and nothing moves. */
  quiet: boolean;
}

const quietKey = 'mellow-quiet';

const initialState: UiSlice = {
  station: 'encode',
  trialLengthS: 10,
  allSettings: false,
  keysShown: false,
  searchShown: false,
  quiet: globalThis.localStorage?.getItem(quietKey) !== 'no',
};

/** What the person is doing. */
export const uiSlice = createSlice({
  name: 'ui',
  initialState,
  reducers: {
    stationChosen(slice, { payload }: PayloadAction<PathPlaceName>) {
      slice.station = payload;
    },
    trialLengthSet(slice, { payload }: PayloadAction<number>) {
      slice.trialLengthS = payload;
    },
    allSettingsToggled(slice) {
      slice.allSettings = !slice.allSettings;
    },
    keysToggled(slice) {
      slice.keysShown = !slice.keysShown;
    },
    searchToggled(slice) {
      slice.searchShown = !slice.searchShown;
    },
    quietToggled(slice) {
      slice.quiet = !slice.quiet;
      globalThis.localStorage?.setItem(quietKey, slice.quiet ? 'yes' : 'no');
    },
  },
});

export const { stationChosen, trialLengthSet, allSettingsToggled, keysToggled, searchToggled, quietToggled } =
  uiSlice.actions;
