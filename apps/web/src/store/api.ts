import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { z } from 'zod';
import {
  brokenTakeSchema,
  demoStateSchema,
  driveStateSchema,
  heardLevelsSchema,
  keyStateSchema,
  logLineSchema,
  lossListSchema,
  machineSchema,
  markSchema,
  movedTakesSchema,
  machineSheetSchema,
  pyramidSchema,
  recipeVersionSchema,
  removalSchema,
  screenLookSchema,
  screensSchema,
  setupListSchema,
  setupSchema,
  soundDevicesSchema,
  takeListSchema,
  takeSchema,
  type BrokenTake,
  type DemoState,
  type DriveState,
  type GrabbedSource,
  type HeardLevels,
  type KeySettings,
  type KeyState,
  type Listening,
  type LogLine,
  type LossRun,
  type Machine,
  type MachinePatch,
  type MachineSheet,
  type Mark,
  type NewSetup,
  type Pyramid,
  type Recipe,
  type RecipeVersion,
  type Removal,
  type ScreenLook,
  type Screens,
  type Setup,
  type SetupPatch,
  type SoundDevices,
  type SoundSource,
  type MovedTakes,
  type RewrapInto,
  type Take,
  type TakeKind,
  type WithGame,
  type ChosenSample,
  leftAloneSchema,
  cameraDevicesSchema,
  type CameraDevices,
} from '@mellow/model';
import { changesInOrder } from './changesInOrder';

/** What the server has. Every answer is parsed here; inside it is trusted. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: changesInOrder(fetchBaseQuery({ baseUrl: `${globalThis.location?.origin ?? ''}/api` })),
  tagTypes: ['Data', 'Screens'],
  endpoints: (build) => ({
    setups: build.query<Setup[], void>({
      query: () => '/setups',
      transformResponse: (r) => setupListSchema.parse(r),
      providesTags: ['Data'],
    }),
    takes: build.query<Take[], void>({
      query: () => '/takes',
      transformResponse: (r) => takeListSchema.parse(r),
      providesTags: ['Data'],
    }),
    take: build.query<Take, string>({
      query: (id) => `/takes/${id}`,
      transformResponse: (r) => takeSchema.parse(r),
      providesTags: ['Data'],
    }),
    pyramid: build.query<Pyramid, { id: string; from: number; to: number | null; buckets: number }>({
      query: ({ id, from, to, buckets }) =>
        `/takes/${id}/pyramid?from=${from}&buckets=${buckets}${to === null ? '' : `&to=${to}`}`,
      transformResponse: (r) => pyramidSchema.parse(r),
    }),
    losses: build.query<{ total: number; runs: LossRun[] }, string>({
      query: (id) => `/takes/${id}/losses`,
      transformResponse: (r) => lossListSchema.parse(r),
    }),
    takeLog: build.query<LogLine[], string>({
      query: (id) => `/takes/${id}/log`,
      transformResponse: (r) => z.array(logLineSchema).parse(r),
    }),
    drives: build.query<DriveState[], void>({
      query: () => '/drives',
      transformResponse: (r) => z.array(driveStateSchema).parse(r),
      providesTags: ['Data'],
    }),
    machine: build.query<Machine, void>({ query: () => '/machine', transformResponse: (r) => machineSchema.parse(r) }),
    screens: build.query<Screens, void>({
      query: () => '/screens',
      transformResponse: (r) => screensSchema.parse(r),
      providesTags: ['Screens'],
    }),
    look: build.query<ScreenLook, GrabbedSource>({
      query: (source) => ({ url: '/screens/look', method: 'POST', body: source }),
      transformResponse: (r) => screenLookSchema.parse(r),
      keepUnusedDataFor: 0,
    }),
    cameras: build.query<CameraDevices, void>({
      query: () => '/cameras',
      transformResponse: (r) => cameraDevicesSchema.parse(r),
    }),
    sounds: build.query<SoundDevices, void>({
      query: () => '/sounds',
      transformResponse: (r) => soundDevicesSchema.parse(r),
    }),
    soundLevels: build.query<HeardLevels, Listening>({
      query: (body) => ({ url: '/sounds/levels', method: 'POST', body }),
      transformResponse: (r) => heardLevelsSchema.parse(r),
      keepUnusedDataFor: 0,
    }),
    holdSound: build.mutation<void, { sound: SoundSource; open: boolean }>({
      query: (body) => ({ url: '/recorder/hold', method: 'POST', body }),
    }),
    machines: build.query<MachineSheet[], void>({
      query: () => '/machines',
      transformResponse: (r) => z.array(machineSheetSchema).parse(r),
      providesTags: ['Data'],
    }),
    demo: build.query<DemoState, void>({
      query: () => '/demo',
      transformResponse: (r) => demoStateSchema.parse(r),
      providesTags: ['Data'],
    }),
    addSetup: build.mutation<Setup, NewSetup>({
      query: (body) => ({ url: '/setups', method: 'POST', body }),
      transformResponse: (r) => setupSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    changeSetup: build.mutation<Setup, { id: string; patch: SetupPatch }>({
      query: ({ id, patch }) => ({ url: `/setups/${id}`, method: 'PATCH', body: patch }),
      transformResponse: (r) => setupSchema.parse(r),
      async onQueryStarted({ id, patch }, { dispatch, queryFulfilled }) {
        await keepUnlessRefused(dispatch(changeShown(id, (setup) => Object.assign(setup, patch))), queryFulfilled);
      },
      invalidatesTags: ['Data'],
    }),
    removeSetup: build.mutation<void, string>({
      query: (id) => ({ url: `/setups/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Data'],
    }),
    setDraft: build.mutation<Setup, { id: string; recipe: Recipe }>({
      query: ({ id, recipe }) => ({ url: `/setups/${id}/draft`, method: 'PUT', body: { recipe } }),
      transformResponse: (r) => setupSchema.parse(r),
      // The bead stays where it was put while the server stores it; an error puts it back.
      async onQueryStarted({ id, recipe }, { dispatch, queryFulfilled }) {
        await keepUnlessRefused(dispatch(changeShown(id, (setup) => void (setup.draft = recipe))), queryFulfilled);
      },
      invalidatesTags: ['Data'],
    }),
    undoDraft: build.mutation<Setup, string>({
      query: (id) => ({ url: `/setups/${id}/undo`, method: 'POST' }),
      transformResponse: (r) => setupSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    keepDraft: build.mutation<RecipeVersion, string>({
      query: (id) => ({ url: `/setups/${id}/keep`, method: 'POST' }),
      transformResponse: (r) => recipeVersionSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    proveEncoders: build.mutation<MachineSheet, void>({
      query: () => ({ url: '/machines/this/prove', method: 'POST' }),
      transformResponse: (r) => machineSheetSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    changeMachine: build.mutation<MachineSheet, { id: string; patch: MachinePatch }>({
      query: ({ id, patch }) => ({ url: `/machines/${id}`, method: 'PATCH', body: patch }),
      transformResponse: (r) => machineSheetSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    rewrapTake: build.mutation<Take, { id: string; into?: RewrapInto }>({
      query: ({ id, into = 'mp4' }) => ({ url: `/takes/${id}/rewrap`, method: 'POST', body: { into } }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    makeTrial: build.mutation<Take, { setupId: string; lengthS: number | null; kind?: TakeKind }>({
      query: ({ setupId, ...body }) => ({ url: `/setups/${setupId}/trials`, method: 'POST', body }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    rollSoon: build.mutation<unknown, { setupId: string; inS: number; lengthS: number | null }>({
      query: ({ setupId, ...body }) => ({ url: `/setups/${setupId}/roll-soon`, method: 'POST', body }),
    }),
    letBe: build.mutation<unknown, void>({
      query: () => ({ url: '/roll-soon', method: 'DELETE' }),
    }),
    chooseSample: build.mutation<Setup, { setupId: string; chosen: ChosenSample }>({
      query: ({ setupId, chosen }) => ({ url: `/setups/${setupId}/sample`, method: 'PUT', body: chosen }),
      transformResponse: (r) => setupSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    keys: build.query<KeyState, void>({
      query: () => '/keys',
      transformResponse: (r) => keyStateSchema.parse(r),
      providesTags: ['Data'],
    }),
    setKeys: build.mutation<KeyState, KeySettings>({
      query: (body) => ({ url: '/keys', method: 'PUT', body }),
      transformResponse: (r) => keyStateSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    leftAlone: build.query<string[], void>({
      query: () => '/left-alone',
      transformResponse: (r) => leftAloneSchema.parse(r),
      providesTags: ['Data'],
    }),
    setLeftAlone: build.mutation<string[], string[]>({
      query: (names) => ({ url: '/left-alone', method: 'PUT', body: { names } }),
      transformResponse: (r) => leftAloneSchema.parse(r),
      invalidatesTags: ['Data', 'Screens'],
    }),
    programs: build.query<string[], void>({
      query: () => '/programs',
      transformResponse: (r) => z.array(z.string()).parse(r),
      keepUnusedDataFor: 0,
    }),
    setWithGame: build.mutation<Setup, { setupId: string; withGame: WithGame | null }>({
      query: ({ setupId, withGame }) => ({ url: `/setups/${setupId}/with-game`, method: 'PUT', body: { withGame } }),
      transformResponse: (r) => setupSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    keep: build.mutation<Take, void>({
      query: () => ({ url: '/recorder/keep', method: 'POST', body: {} }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    watch: build.mutation<unknown, string>({
      query: (setupId) => ({ url: '/hindsight/on', method: 'POST', body: { setupId } }),
    }),
    unwatch: build.mutation<void, void>({ query: () => ({ url: '/hindsight/off', method: 'POST' }) }),
    addMark: build.mutation<Mark, { note?: string }>({
      query: (body) => ({ url: '/recorder/marks', method: 'POST', body }),
      transformResponse: (r) => markSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    nameMark: build.mutation<Take, { takeId: string; markId: string; note: string }>({
      query: ({ takeId, markId, note }) => ({
        url: `/takes/${takeId}/marks/${markId}`,
        method: 'PATCH',
        body: { note },
      }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    removeMark: build.mutation<Take, { takeId: string; markId: string }>({
      query: ({ takeId, markId }) => ({ url: `/takes/${takeId}/marks/${markId}`, method: 'DELETE' }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    moveTakes: build.mutation<MovedTakes, { from: string; to: string }>({
      query: ({ from, to }) => ({ url: `/drives/${from}/move`, method: 'POST', body: { to } }),
      transformResponse: (r) => movedTakesSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    pause: build.mutation<unknown, boolean>({
      query: (on) => ({ url: '/recorder/pause', method: 'POST', body: { on } }),
    }),
    stop: build.mutation<unknown, void>({ query: () => ({ url: '/recorder/stop', method: 'POST' }) }),
    brokenTakes: build.query<BrokenTake[], void>({
      query: () => '/broken-takes',
      transformResponse: (r) => z.array(brokenTakeSchema).parse(r),
      providesTags: ['Data'],
    }),
    lookAgain: build.mutation<Take, string>({
      query: (id) => ({ url: `/takes/${id}/look-again`, method: 'POST' }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    openFolder: build.mutation<void, string>({ query: (id) => ({ url: `/takes/${id}/show`, method: 'POST' }) }),
    discard: build.mutation<Take, string>({
      query: (id) => ({ url: `/takes/${id}/discard`, method: 'POST' }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    bringBack: build.mutation<Take, string>({
      query: (id) => ({ url: `/takes/${id}/bring-back`, method: 'POST' }),
      transformResponse: (r) => takeSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    emptyDiscards: build.mutation<Removal, string | null>({
      query: (id) => ({ url: `/discards${id === null ? '' : `?take=${id}`}`, method: 'DELETE' }),
      transformResponse: (r) => removalSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    endJob: build.mutation<void, string>({ query: (id) => ({ url: `/jobs/${id}`, method: 'DELETE' }) }),
    removeTake: build.mutation<Removal, string>({
      query: (id) => ({ url: `/takes/${id}`, method: 'DELETE' }),
      transformResponse: (r) => removalSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    removeDemo: build.mutation<void, void>({
      query: () => ({ url: '/demo', method: 'DELETE' }),
      invalidatesTags: ['Data'],
    }),
  }),
});

/** A change of a setup that is shown before the server has stored it. */
function changeShown(id: string, change: (setup: Setup) => void) {
  return api.util.updateQueryData('setups', undefined, (setups) => {
    const setup = setups.find((s) => s.id === id);
    if (setup) change(setup);
  });
}

async function keepUnlessRefused(shown: { undo: () => void }, stored: Promise<unknown>): Promise<void> {
  await stored.catch(() => shown.undo());
}

export const {
  useSetupsQuery,
  useTakesQuery,
  useTakeQuery,
  usePyramidQuery,
  useLossesQuery,
  useTakeLogQuery,
  useDrivesQuery,
  useScreensQuery,
  useCamerasQuery,
  useSoundsQuery,
  useSoundLevelsQuery,
  useHoldSoundMutation,
  useLookQuery,
  useMachineQuery,
  useMachinesQuery,
  useDemoQuery,
  useAddSetupMutation,
  useChangeSetupMutation,
  useRemoveSetupMutation,
  useLeftAloneQuery,
  useSetLeftAloneMutation,
  useSetDraftMutation,
  useDiscardMutation,
  useBringBackMutation,
  useEmptyDiscardsMutation,
  useUndoDraftMutation,
  useBrokenTakesQuery,
  useLookAgainMutation,
  useOpenFolderMutation,
  useEndJobMutation,
  useMakeTrialMutation,
  useChooseSampleMutation,
  useKeysQuery,
  useSetKeysMutation,
  useProgramsQuery,
  useLetBeMutation,
  useRollSoonMutation,
  useSetWithGameMutation,
  useKeepMutation,
  useWatchMutation,
  useUnwatchMutation,
  useAddMarkMutation,
  useNameMarkMutation,
  useRemoveMarkMutation,
  useMoveTakesMutation,
  usePauseMutation,
  useStopMutation,
  useRemoveTakeMutation,
  useRemoveDemoMutation,
  useKeepDraftMutation,
  useProveEncodersMutation,
  useChangeMachineMutation,
  useRewrapTakeMutation,
} = api;
