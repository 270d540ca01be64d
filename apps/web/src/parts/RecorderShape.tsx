import type { LiveState } from '@mellow/model';

export type RecorderShapeName = 'rolling' | 'paused' | 'armed' | 'holding' | 'idle' | 'away';

/** Idle, armed, rolling, paused, closing. */
export function recorderWords({ recorder, take }: Pick<LiveState, 'recorder' | 'take'>): string {
  if (isPaused({ recorder, take })) return 'Paused';
  return { idle: 'Idle', rolling: 'Rolling', armed: 'Armed', closing: 'Closing' }[recorder];
}

export function recorderShape(live: Pick<LiveState, 'recorder' | 'take'>): RecorderShapeName {
  if (isPaused(live)) return 'paused';
  return live.recorder === 'closing' ? 'armed' : live.recorder;
}

function isPaused({ recorder, take }: Pick<LiveState, 'recorder' | 'take'>): boolean {
  return recorder === 'rolling' && take !== null && take.pausedS !== null;
}

/** What the recorder does, by shape and never by colour alone; its word stands beside it. */
export function RecorderShape({ shape, sizePx = 12 }: { shape: RecorderShapeName; sizePx?: number }) {
  return (
    <svg className="recorder-shape" width={sizePx} height={sizePx} viewBox="0 0 24 24" aria-hidden="true">
      {shape === 'rolling' ? (
        <circle cx="12" cy="12" r="11" fill="var(--accent)" />
      ) : (
        <circle
          cx="12"
          cy="12"
          r="9.5"
          fill="none"
          stroke={shape === 'idle' ? 'var(--soft)' : 'var(--accent-ink)'}
          strokeWidth="3"
          strokeDasharray={shape === 'armed' ? '5 4' : undefined}
        />
      )}
      {shape === 'paused' && <path d="M9.500 8v8M14.500 8v8" stroke="var(--accent-ink)" strokeWidth="3" />}
      {shape === 'holding' && <path d="M12 2.500a9.500 9.500 0 0 0 0 19z" fill="var(--accent-ink)" />}
      {shape === 'away' && <path d="M6 6l12 12" stroke="var(--over)" strokeWidth="3" />}
    </svg>
  );
}
