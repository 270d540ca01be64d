import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { PathPlaceName } from '@mellow/model';

interface UiSlice {
  station: PathPlaceName;
  trialLengthS: number;
  allSettings: boolean;
  keysShown: boolean;
  searchShown: boolean;
}

const initialState: UiSlice = {
  station: 'encode',
  trialLengthS: 10,
  allSettings: false,
  keysShown: false,
  searchShown: false,
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
  },
});

export const { stationChosen, trialLengthSet, allSettingsToggled, keysToggled, searchToggled } = uiSlice.actions;
