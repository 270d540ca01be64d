import { driveSchema, workingPlaceSchema, type Drive, type NewDrive, type WorkingPlace } from '@mellow/model';
import { api } from './api';

/** What is asked about folders for takes, and about the working folder. */
const driveApi = api.injectEndpoints({
  endpoints: (build) => ({
    addDrive: build.mutation<Drive, NewDrive>({
      query: (body) => ({ url: '/drives', method: 'POST', body }),
      transformResponse: (r) => driveSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    measureDrive: build.mutation<Drive, string>({
      query: (id) => ({ url: `/drives/${id}/measure`, method: 'POST' }),
      transformResponse: (r) => driveSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    typeDriveSpeed: build.mutation<Drive, { id: string; writeBytesPerSecond: number | null }>({
      query: ({ id, ...body }) => ({ url: `/drives/${id}`, method: 'PATCH', body }),
      transformResponse: (r) => driveSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    removeDrive: build.mutation<void, string>({
      query: (id) => ({ url: `/drives/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Data'],
    }),
    working: build.query<WorkingPlace, void>({
      query: () => '/working',
      transformResponse: (r) => workingPlaceSchema.parse(r),
      providesTags: ['Data'],
    }),
    setWorking: build.mutation<WorkingPlace, string | null>({
      query: (driveId) => ({ url: '/working', method: 'PUT', body: { driveId } }),
      transformResponse: (r) => workingPlaceSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
    emptyCopies: build.mutation<WorkingPlace, void>({
      query: () => ({ url: '/working/copies', method: 'DELETE' }),
      transformResponse: (r) => workingPlaceSchema.parse(r),
      invalidatesTags: ['Data'],
    }),
  }),
});

export const {
  useAddDriveMutation,
  useMeasureDriveMutation,
  useTypeDriveSpeedMutation,
  useRemoveDriveMutation,
  useWorkingQuery,
  useSetWorkingMutation,
  useEmptyCopiesMutation,
} = driveApi;
