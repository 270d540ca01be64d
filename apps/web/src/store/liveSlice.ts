import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { LiveState, Problem } from '@mellow/model';

interface LiveSlice {
  state: LiveState | null;
  connected: boolean;
  /** Problems of the last actions, shown until they are put away. */
  problems: { id: number; problem: Problem }[];
  noticeSeen: number;
}

const seenKey = 'mellow-notice-seen';

const initialState: LiveSlice = {
  state: null,
  connected: true,
  problems: [],
  noticeSeen: Number(globalThis.localStorage?.getItem(seenKey) ?? 0),
};

/** The recorder's live state, and what there is to tell. */
export const liveSlice = createSlice({
  name: 'live',
  initialState,
  reducers: {
    liveArrived(slice, { payload }: PayloadAction<LiveState>) {
      slice.state = payload;
      slice.connected = true;
    },
    connectionLost(slice) {
      slice.connected = false;
    },
    problemRaised(slice, { payload }: PayloadAction<Problem>) {
      if (slice.problems.some((p) => p.problem.detail === payload.detail)) return;
      slice.problems.push({ id: Date.now() + slice.problems.length, problem: payload });
      slice.problems = slice.problems.slice(-3);
    },
    problemPutAway(slice, { payload }: PayloadAction<number>) {
      slice.problems = slice.problems.filter((p) => p.id !== payload);
    },
    noticePutAway(slice, { payload }: PayloadAction<number>) {
      slice.noticeSeen = payload;
      globalThis.localStorage?.setItem(seenKey, String(payload));
    },
  },
});

export const { liveArrived, connectionLost, problemRaised, problemPutAway, noticePutAway } = liveSlice.actions;
