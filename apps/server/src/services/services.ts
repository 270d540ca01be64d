import { openStore, type Store } from '../db/openStore';
import { openAppLog, type AppLog } from '../program/appLog';
import { createCameraService, type CameraService } from '../machine/cameras';
import { createDemoService, type DemoService } from '../demo/demo';
import { createDriveService, type DriveService } from '../drives/drives';
import { createForecastContexts, type ForecastContexts } from '../setups/forecastContexts';
import { prepareFolders, type Folders } from '../program/folders';
import { createLiveHub, type LiveHub } from '../program/liveHub';
import { createMachineService, type MachineService } from '../machine/machines';
import { createHindsightService, type HindsightService } from '../hindsight/hindsight';
import { startGoingOn } from '../rolling/goingOn';
import { createRecorderService } from '../recorder/recorder';
import type { RecorderContext } from '../recorder/recorderContext';
import type { RecorderService } from '../recorder/recorderService';
import { createJobService, type JobService } from '../files/jobs';
import { createJournals } from '../files/journals';
import { createClipService, type ClipService } from '../hindsight/clips';
import { createKeepNow, type KeepNow } from '../rolling/keepNow';
import { createMoveTakes, type MoveTakes } from '../footage/moveTakes';
import { goOnWithFiles } from '../footage/goOnWithFiles';
import { createKeyService, type KeyService } from '../rolling/keys';
import { createMarkService, type MarkService } from '../rolling/marks';
import { createSampleService, type SampleService } from '../setups/samples';
import type { Clock } from '@mellow/model';
import { createScreenService, type ScreenService } from '../machine/screens';
import { createSetupService, type SetupService } from '../setups/setups';
import { createSoundService, type SoundService } from '../machine/sounds';
import { createDiscards, type DiscardService } from '../footage/discards';
import { createLeftAlone, type LeftAlone } from '../machine/leftAlone';
import { createRollSoon, type RollSoon } from '../rolling/rollSoon';
import { createWithGame, type WithGameService, type WithGameServices } from '../rolling/withGame';
import { createTakeMedia, type TakeMediaService } from '../footage/takeMedia';
import { createTakeService, type TakeService } from '../takes/takes';
import { openWorking, type WorkingService } from '../drives/working';

export interface Services {
  store: Store;
  folders: Folders;
  log: AppLog;
  live: LiveHub;
  drives: DriveService;
  machines: MachineService;
  contexts: ForecastContexts;
  setups: SetupService;
  samples: SampleService;
  cameras: CameraService;
  screens: ScreenService;
  sounds: SoundService;
  takes: TakeService;
  jobs: JobService;
  recorder: RecorderService;
  marks: MarkService;
  clips: ClipService;
  keepNow: KeepNow;
  moveTakes: MoveTakes;
  keys: KeyService;
  withGame: WithGameService;
  rollSoon: RollSoon;
  leftAlone: LeftAlone;
  working: WorkingService;
  discards: DiscardService;
  hindsight: HindsightService;
  media: TakeMediaService;
  demo: DemoService;
}

export interface ServiceOptions {
  dataFolder: string;
  /** Silence of the recorder after which it counts as hung. */
  hangMs?: number;
  /** Takes after which the recorder's process is replaced by a fresh one. */
  takesPerRecorder?: number;
  /** The clock of trials of the practice game. */
  trialClock?: Clock;
  /** Seconds for which game and path run before a take. */
  warmUpS?: number;
  /** Seconds of the game without recording before each trial. */
  baselineS?: number;
  /** What runs, and how often it is looked at. */
  withGame?: Pick<WithGameServices, 'programs' | 'lookEveryMs'>;
  /** Today. */
  discards?: { now: () => Date };
  /** How often a trial plays the game without and with recording in turns. */
  pairs?: number;
}

/** Times and numbers that a person never changes, and tests do. */
const timesOf = ({
  hangMs = 5000,
  trialClock = 'real',
  warmUpS = 2,
  baselineS = 1.5,
  pairs = 4,
  ...o
}: ServiceOptions) => ({
  ...{ hangMs, trialClock, warmUpS, baselineS, pairs },
  takesPerRecorder: o.takesPerRecorder ?? 12,
});

/** What rolls, and what holds the last minutes while nothing does. */
function openRecorders(context: Omit<RecorderContext, 'hindsight'> & { clips: ClipService }) {
  const { clips } = context;
  const hindsight = createHindsightService({
    ...context,
    ...{ baselineS: 0, pairs: 1 },
    gather: async ({ setup, drive, order }) =>
      void (order.hindsight?.where === 'drive' && (await clips.gather(setup.id, drive.id, order.hindsight.folder))),
  });
  return { hindsight, recorder: createRecorderService({ ...context, hindsight }) };
}

/** Opens everything the server needs on one data folder. */
export async function openServices(options: ServiceOptions): Promise<Services> {
  const folders = prepareFolders(options.dataFolder);
  const store = await openStore(folders.database);
  const log = openAppLog(folders.data);
  const live = createLiveHub();
  const journals = createJournals(folders.journals);
  const jobs = createJobService(live, log, journals);
  const drives = createDriveService(store, folders, live);
  const machines = createMachineService(store, live, log, jobs);
  const working = await openWorking({ store, drives, folders, live });
  const takes = createTakeService({ store, folders, working, live, log, journals });
  const contexts = createForecastContexts(machines, drives, takes);
  const setups = createSetupService(store, drives, live, machines, contexts);
  const cameras = createCameraService(jobs);
  const samples = createSampleService(setups, takes, jobs);
  const leftAlone = createLeftAlone(store, live);
  const screens = createScreenService(jobs, leftAlone);
  const sounds = createSoundService(jobs, log);
  const clips = createClipService({
    ...{ takes, setups, machines, drives, jobs, live, log, journals },
    pendingFolder: folders.journals,
  });
  const rolled = { journals, drives, working, setups, samples, cameras, screens, sounds, takes, contexts };
  const { hindsight, recorder } = openRecorders({ ...rolled, folders, log, live, jobs, clips, ...timesOf(options) });
  const marks = createMarkService(takes, recorder);
  const moveTakes = createMoveTakes({ drives, takes, setups, jobs, journals, recorder, log });
  const keepNow = createKeepNow({ recorder, hindsight, clips, marks, takes });
  const discards = createDiscards({
    ...{ drives, takes, jobs, journals, setups, recorder, live, log },
    ...options.discards,
  });
  const withGame = createWithGame({ setups, recorder, leftAlone, live, log, ...options.withGame });
  const rollSoon = createRollSoon({ setups, recorder, live, log });
  startGoingOn({ recorder, takes, drives, live, log, tookOver: withGame.tookOver, mayGoOn: withGame.mayGoOn });
  const keys = createKeyService({ store, recorder, marks, takes, keepNow, live, log });
  const media = createTakeMedia(takes, working, jobs, recorder);
  const demo = createDemoService(store, folders, setups, takes, machines, live, log);
  await drives.defaultId();
  await goOnWithFiles({ journals, takes, setups, drives, discards, log });
  working.prune(new Set([...(await takes.list()), ...(await takes.broken())].map(({ id }) => id)));
  return {
    store,
    folders,
    log,
    live,
    drives,
    machines,
    contexts,
    setups,
    samples,
    cameras,
    screens,
    sounds,
    takes,
    jobs,
    recorder,
    marks,
    clips,
    keepNow,
    moveTakes,
    keys,
    withGame,
    rollSoon,
    leftAlone,
    working,
    discards,
    hindsight,
    media,
    demo,
  };
}
