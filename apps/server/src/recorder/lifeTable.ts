import { lifeEvents, lifePhases, stepLife, type LifeEvent, type LifeEventType, type LifeState } from './takeLife';

/** One event of each kind, two where its content decides. */
const examples: Record<LifeEventType, readonly { name: string; event: LifeEvent }[]> = {
  'trial-asked': [{ name: 'trial asked for', event: { type: 'trial-asked', takeId: 'new' } }],
  prepared: [{ name: 'prepared', event: { type: 'prepared' } }],
  'prepare-failed': [{ name: 'cannot be prepared', event: { type: 'prepare-failed' } }],
  sign: [
    { name: 'sign: rolling', event: { type: 'sign', of: 'rolling' } },
    { name: 'sign: closing', event: { type: 'sign', of: 'closing' } },
  ],
  'stop-asked': [{ name: 'stop asked for', event: { type: 'stop-asked' } }],
  'container-closed': [
    { name: 'container closed', event: { type: 'container-closed', well: true } },
    { name: 'given up, container open', event: { type: 'container-closed', well: false } },
  ],
  refused: [{ name: 'order refused', event: { type: 'refused' } }],
  'recorder-gone': [{ name: 'recorder dies', event: { type: 'recorder-gone' } }],
  'recorder-silent': [{ name: 'recorder hangs', event: { type: 'recorder-silent' } }],
  'work-done': [
    { name: 'work done', event: { type: 'work-done', readable: true } },
    { name: 'work done, nothing readable', event: { type: 'work-done', readable: false } },
  ],
  'work-failed': [{ name: 'work fails', event: { type: 'work-failed' } }],
  'drive-gone': [{ name: 'drive goes', event: { type: 'drive-gone' } }],
  'job-asked': [{ name: 'job asked for', event: { type: 'job-asked' } }],
  'job-ended': [{ name: 'job ends', event: { type: 'job-ended' } }],
  'orphan-found': [
    { name: 'left take: recorder lives', event: { type: 'orphan-found', takeId: 'left', left: 'living' } },
    { name: 'left take: closed', event: { type: 'orphan-found', takeId: 'left', left: 'closed' } },
    { name: 'left take: open', event: { type: 'orphan-found', takeId: 'left', left: 'open' } },
  ],
  'quit-asked': [{ name: 'application ends', event: { type: 'quit-asked' } }],
};

/** The answers of the machine as a table in Markdown: a row an event, a column a phase. */
export function lifeTable(): string {
  const cell = (phase: LifeState['phase'], event: LifeEvent): string => {
    const before: LifeState = {
      phase,
      takeId: phase === 'idle' ? null : 'take',
      stopping: false,
      leaving: false,
      jobs: 0,
    };
    const { state, effects, refusal } = stepLife(before, event);
    if (refusal) return `refused: ${refusal}`;
    const done = effects.filter((effect) => effect !== 'end').join(', ');
    if (state.phase !== phase) return `**${state.phase}**${done ? `: ${done}` : ''}`;
    return done || '-';
  };
  const rows = lifeEvents.flatMap((type) =>
    examples[type].map(
      ({ name, event }) => `| ${name} | ${lifePhases.map((phase) => cell(phase, event)).join(' | ')} |`,
    ),
  );
  return [`| | ${lifePhases.join(' | ')} |`, `|---|${lifePhases.map(() => '---').join('|')}|`, ...rows].join('\n');
}
