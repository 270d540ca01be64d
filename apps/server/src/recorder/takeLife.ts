/**
 * The life of a take on the server as one state machine: every event has an answer in every state, and from every state
 * the recorder comes back to idle. Pure: what has to be done comes out as effects, what came of it goes in as events.
 * docs/recorder-states.md is drawn from it.
 */
export const lifePhases = [
  'idle',
  'claimed',
  'armed',
  'rolling',
  'closing',
  'reading',
  'rescuing',
  'finishing',
  'watching',
] as const;
export type LifePhase = (typeof lifePhases)[number];

export interface LifeState {
  phase: LifePhase;
  /** The take it is about; null when idle. */
  takeId: string | null;
  /** Somebody asked to stop before the recorder could be told. */
  stopping: boolean;
  /** The application ends: nothing new begins, and what can wait for the next start waits. */
  leaving: boolean;
  /** Jobs of people that run now: copies, tests, measurements. */
  jobs: number;
}

export const idleLife: LifeState = { phase: 'idle', takeId: null, stopping: false, leaving: false, jobs: 0 };

export type LifeEvent =
  /** A person asks for a trial. */
  | { type: 'trial-asked'; takeId: string }
  /** Checks are passed, the name is reserved, the take is stored. */
  | { type: 'prepared' }
  | { type: 'prepare-failed' }
  /** The recorder says how far it is. */
  | { type: 'sign'; of: 'rolling' | 'closing' }
  | { type: 'stop-asked' }
  | { type: 'container-closed'; well: boolean }
  | { type: 'refused' }
  | { type: 'recorder-gone' }
  /** No sign for longer than a healthy recorder ever needs. */
  | { type: 'recorder-silent' }
  | { type: 'work-done'; readable: boolean }
  | { type: 'work-failed' }
  | { type: 'drive-gone' }
  | { type: 'job-asked' }
  | { type: 'job-ended' }
  | { type: 'orphan-found'; takeId: string; left: 'living' | 'closed' | 'open' }
  | { type: 'quit-asked' };
export type LifeEventType = LifeEvent['type'];

export const lifeEvents: readonly LifeEventType[] = [
  'trial-asked',
  'prepared',
  'prepare-failed',
  'sign',
  'stop-asked',
  'container-closed',
  'refused',
  'recorder-gone',
  'recorder-silent',
  'work-done',
  'work-failed',
  'drive-gone',
  'job-asked',
  'job-ended',
  'orphan-found',
  'quit-asked',
];

export type LifeEffect =
  | 'prepare'
  | 'roll'
  | 'stop-recorder'
  | 'kill-recorder'
  | 'read-back'
  | 'rescue'
  | 'finish'
  | 'watch-orphan'
  | 'cancel-work'
  | 'store-failure'
  | 'give-up'
  | 'end';

export type Refusal = 'busy' | 'job-running' | 'nothing-rolls' | 'leaving';

export interface LifeStep {
  state: LifeState;
  effects: LifeEffect[];
  /** The event is turned down, and whoever asked is told why. */
  refusal: Refusal | null;
}

const stay = (state: LifeState, ...effects: LifeEffect[]): LifeStep => ({ state, effects, refusal: null });
const refuse = (state: LifeState, refusal: Refusal): LifeStep => ({ state, effects: [], refusal });
const go = (state: LifeState, phase: LifePhase, ...effects: LifeEffect[]): LifeStep => ({
  state: { ...state, phase },
  effects,
  refusal: null,
});
const toIdle = (state: LifeState, ...effects: LifeEffect[]): LifeStep => ({
  state: { ...state, phase: 'idle', takeId: null, stopping: false },
  effects: [...effects, 'end'],
  refusal: null,
});

/** A recorder is at work on the take. */
const rolls = (phase: LifePhase): boolean => phase === 'armed' || phase === 'rolling' || phase === 'closing';
/** A job of our own is at work on the take. */
const works = (phase: LifePhase): boolean => phase === 'reading' || phase === 'rescuing' || phase === 'finishing';

type Answers = { [T in LifeEventType]: (state: LifeState, event: Extract<LifeEvent, { type: T }>) => LifeStep };

const answers: Answers = {
  'trial-asked'(state, { takeId }) {
    if (state.leaving) return refuse(state, 'leaving');
    if (state.phase !== 'idle') return refuse(state, 'busy');
    if (state.jobs > 0) return refuse(state, 'job-running');
    return go({ ...state, takeId }, 'claimed', 'prepare');
  },
  prepared(state) {
    if (state.phase !== 'claimed') return stay(state);
    if (state.leaving) return toIdle(state, 'give-up');
    return state.stopping ? go(state, 'armed', 'roll', 'stop-recorder') : go(state, 'armed', 'roll');
  },
  'prepare-failed': (state) => (state.phase === 'claimed' ? toIdle(state) : stay(state)),
  sign(state, { of }) {
    if (state.phase === 'armed' || (state.phase === 'rolling' && of === 'closing')) return go(state, of);
    return stay(state);
  },
  'stop-asked'(state) {
    if (state.phase === 'claimed') return stay({ ...state, stopping: true });
    if (state.phase === 'armed' || state.phase === 'rolling')
      return stay({ ...state, stopping: true }, 'stop-recorder');
    return state.phase === 'idle' ? refuse(state, 'nothing-rolls') : stay(state);
  },
  'container-closed'(state, { well }) {
    if (state.phase === 'watching') return go(state, well ? 'reading' : 'rescuing', well ? 'read-back' : 'rescue');
    if (!rolls(state.phase)) return stay(state);
    // What is closed is safe; the next start reads it back.
    if (state.leaving) return toIdle(state);
    return well ? go(state, 'reading', 'read-back') : go(state, 'rescuing', 'rescue');
  },
  refused: (state) => afterLoss(state),
  'recorder-gone': (state) => afterLoss(state),
  'recorder-silent'(state) {
    return rolls(state.phase) || state.phase === 'watching' ? stay(state, 'kill-recorder') : stay(state);
  },
  'work-done'(state, { readable }) {
    if (state.phase === 'reading' || state.phase === 'rescuing')
      return readable && !state.leaving ? go(state, 'finishing', 'finish') : toIdle(state);
    return state.phase === 'finishing' ? toIdle(state) : stay(state);
  },
  'work-failed'(state) {
    if (state.phase === 'reading' || state.phase === 'rescuing') return toIdle(state, 'store-failure');
    return state.phase === 'finishing' ? toIdle(state) : stay(state);
  },
  // The recorder notices by itself and closes what it has beside the ledger; work on files fails by itself.
  'drive-gone': (state) => stay(state),
  'job-asked'(state) {
    if (state.leaving) return refuse(state, 'leaving');
    return state.phase === 'idle' ? stay({ ...state, jobs: state.jobs + 1 }) : refuse(state, 'busy');
  },
  'job-ended': (state) => stay({ ...state, jobs: Math.max(0, state.jobs - 1) }),
  'orphan-found'(state, { takeId, left }) {
    if (state.leaving) return refuse(state, 'leaving');
    if (state.phase !== 'idle') return refuse(state, 'busy');
    if (state.jobs > 0) return refuse(state, 'job-running');
    const claimed = { ...state, takeId };
    if (left === 'living') return go(claimed, 'watching', 'watch-orphan');
    return left === 'closed' ? go(claimed, 'reading', 'read-back') : go(claimed, 'rescuing', 'rescue');
  },
  'quit-asked'(state) {
    const leaving = { ...state, leaving: true };
    if (state.phase === 'armed' || state.phase === 'rolling')
      return stay({ ...leaving, stopping: true }, 'stop-recorder');
    // A job that is ended leaves everything as it was; the next start begins it again.
    if (works(state.phase) || state.phase === 'watching') return toIdle(leaving, 'cancel-work');
    return stay(leaving);
  },
};

/** The recorder is lost to the take: what it left is rescued, now or at the next start. */
function afterLoss(state: LifeState): LifeStep {
  if (state.phase === 'watching') return go(state, 'rescuing', 'rescue');
  if (!rolls(state.phase)) return stay(state);
  return state.leaving ? toIdle(state) : go(state, 'rescuing', 'rescue');
}

/** The answer to an event. */
export function stepLife(state: LifeState, event: LifeEvent): LifeStep {
  const answer = answers[event.type] as (state: LifeState, event: LifeEvent) => LifeStep;
  return answer(state, event);
}

/** Events of which one is certain to come, sooner or later, in a phase: who waits for what, with what limit. */
export const certainIn: Record<LifePhase, readonly LifeEvent[]> = {
  idle: [],
  claimed: [{ type: 'prepared' }, { type: 'prepare-failed' }],
  armed: [
    { type: 'container-closed', well: true },
    { type: 'container-closed', well: false },
    { type: 'refused' },
    { type: 'recorder-gone' },
  ],
  rolling: [
    { type: 'container-closed', well: true },
    { type: 'container-closed', well: false },
    { type: 'refused' },
    { type: 'recorder-gone' },
  ],
  closing: [
    { type: 'container-closed', well: true },
    { type: 'container-closed', well: false },
    { type: 'refused' },
    { type: 'recorder-gone' },
  ],
  reading: [{ type: 'work-done', readable: true }, { type: 'work-done', readable: false }, { type: 'work-failed' }],
  rescuing: [{ type: 'work-done', readable: true }, { type: 'work-done', readable: false }, { type: 'work-failed' }],
  finishing: [{ type: 'work-done', readable: true }, { type: 'work-failed' }],
  watching: [{ type: 'container-closed', well: true }, { type: 'recorder-gone' }],
};
