import { configureStore, isRejectedWithValue, type Middleware } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api';
import { problemOf } from './problemOf';
import { liveSlice, problemRaised } from './liveSlice';
import { uiSlice } from './uiSlice';

/** A failed action is told where the person is; failed reading is told by the place that reads. */
const tellProblems: Middleware =
  ({ dispatch }) =>
  (next) =>
  (action) => {
    const result = next(action);
    if (isRejectedWithValue(action) && (action.meta as { arg?: { type?: string } }).arg?.type === 'mutation')
      dispatch(problemRaised(problemOf(action.payload)));
    return result;
  };

export const createStore = () =>
  configureStore({
    reducer: { [api.reducerPath]: api.reducer, live: liveSlice.reducer, ui: uiSlice.reducer },
    middleware: (defaults) => defaults().concat(api.middleware, tellProblems),
    // A choice shows with the press that made it: a frame later the control would have stood at the earlier one meanwhile.
    enhancers: (defaults) => defaults({ autoBatch: { type: 'tick' } }),
  });

export type AppStore = ReturnType<typeof createStore>;
export type RootState = ReturnType<AppStore['getState']>;
export const useAppDispatch = useDispatch.withTypes<AppStore['dispatch']>();
export const useAppSelector = useSelector.withTypes<RootState>();
