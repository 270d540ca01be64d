import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as fc from 'fast-check';
import { lifeTable } from './lifeTable';
import { certainIn, idleLife, lifeEvents, lifePhases, stepLife, type LifeEvent, type LifeState } from './takeLife';

const anyEvent: fc.Arbitrary<LifeEvent> = fc.oneof(
  fc.record({ type: fc.constant('trial-asked' as const), takeId: fc.constantFrom('a', 'b') }),
  fc.record({ type: fc.constant('sign' as const), of: fc.constantFrom('rolling' as const, 'closing' as const) }),
  fc.record({ type: fc.constant('container-closed' as const), well: fc.boolean() }),
  fc.record({ type: fc.constant('work-done' as const), readable: fc.boolean() }),
  fc.record({
    type: fc.constant('orphan-found' as const),
    takeId: fc.constantFrom('a', 'b'),
    left: fc.constantFrom('living' as const, 'closed' as const, 'open' as const),
  }),
  fc.constantFrom(
    ...lifeEvents
      .filter((type) => !['trial-asked', 'sign', 'container-closed', 'work-done', 'orphan-found'].includes(type))
      .map((type) => ({ type }) as LifeEvent),
  ),
);

const walk = (events: readonly LifeEvent[], from: LifeState = idleLife): LifeState =>
  events.reduce((state, event) => stepLife(state, event).state, from);

describe('the life of a take', () => {
  it('answers every event in every phase without an error, and belongs to a take exactly when it is not idle', () => {
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 60, size: 'max' }), (events) => {
        let state = idleLife;
        for (const event of events) {
          state = stepLife(state, event).state;
          expect(lifePhases).toContain(state.phase);
          expect(state.takeId === null).toBe(state.phase === 'idle');
          expect(state.jobs).toBeGreaterThanOrEqual(0);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('comes back to idle from wherever it is, by what is certain to come, however it comes', () => {
    fc.assert(
      fc.property(
        fc.array(anyEvent, { maxLength: 40, size: 'max' }),
        fc.infiniteStream(fc.nat()),
        (events, choices) => {
          let state = walk(events);
          for (let steps = 0; state.phase !== 'idle'; steps++) {
            expect(steps).toBeLessThan(10);
            const certain = certainIn[state.phase];
            state = stepLife(state, certain[choices.next().value! % certain.length]!).state;
          }
          // A trial can be asked for at once, unless the application ends or a job of a person's is still to end.
          const { refusal } = stepLife({ ...state, jobs: 0 }, { type: 'trial-asked', takeId: 'next' });
          expect(refusal).toBe(state.leaving ? 'leaving' : null);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('never rolls twice, and ends every take that it began', () => {
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 80, size: 'max' }), (events) => {
        let state = idleLife;
        let open = 0;
        for (const event of events) {
          const step = stepLife(state, event);
          if (step.effects.includes('prepare') || (event.type === 'orphan-found' && !step.refusal)) open++;
          if (step.effects.includes('end')) open--;
          expect(open).toBe(step.state.phase === 'idle' ? 0 : 1);
          if (step.effects.includes('roll')) expect(state.phase).toBe('claimed');
          state = step.state;
        }
      }),
      { numRuns: 300 },
    );
  });

  it('asks the recorder to stop when the wish came before it could roll', () => {
    const step = stepLife(walk([{ type: 'trial-asked', takeId: 'a' }, { type: 'stop-asked' }]), { type: 'prepared' });
    expect(step.effects).toEqual(['roll', 'stop-recorder']);
  });

  it('refuses a trial while a job runs, and a job while a take is made', () => {
    expect(stepLife(walk([{ type: 'job-asked' }]), { type: 'trial-asked', takeId: 'a' }).refusal).toBe('job-running');
    expect(stepLife(walk([{ type: 'trial-asked', takeId: 'a' }]), { type: 'job-asked' }).refusal).toBe('busy');
  });

  it('lets the next take roll until it is stopped itself, however the one before ended', () => {
    const stopped = walk([
      { type: 'trial-asked', takeId: 'a' },
      { type: 'stop-asked' },
      { type: 'prepared' },
      { type: 'sign', of: 'rolling' },
      { type: 'container-closed', well: true },
      { type: 'work-done', readable: false },
      { type: 'trial-asked', takeId: 'b' },
    ]);
    expect(stopped.phase).toBe('claimed');
    expect(stepLife(stopped, { type: 'prepared' }).effects).toEqual(['roll']);
  });

  it('keeps in mind that a take is to stop, asked by a person or by the end of the application', () => {
    const armed = walk([{ type: 'trial-asked', takeId: 'a' }, { type: 'prepared' }]);
    for (const type of ['stop-asked', 'quit-asked'] as const) {
      const step = stepLife(armed, { type });
      expect(step).toEqual({
        state: { ...armed, stopping: true, leaving: type === 'quit-asked' },
        effects: ['stop-recorder'],
        refusal: null,
      });
    }
  });

  it('does not roll backwards: a late sign of rolling changes nothing', () => {
    const closing = walk([{ type: 'trial-asked', takeId: 'a' }, { type: 'prepared' }, { type: 'sign', of: 'closing' }]);
    expect(closing.phase).toBe('closing');
    expect(stepLife(closing, { type: 'sign', of: 'rolling' }).state.phase).toBe('closing');
    const rolling = walk([{ type: 'trial-asked', takeId: 'a' }, { type: 'prepared' }, { type: 'sign', of: 'rolling' }]);
    expect(stepLife(rolling, { type: 'sign', of: 'closing' }).state.phase).toBe('closing');
  });

  it('begins nothing more once the application ends, and leaves what was closed to the next start', () => {
    const leaving = walk([{ type: 'quit-asked' }]);
    for (const event of [
      { type: 'trial-asked', takeId: 'a' },
      { type: 'job-asked' },
      { type: 'orphan-found', takeId: 'a', left: 'open' },
    ] as const)
      expect(stepLife(leaving, event)).toEqual({ state: leaving, effects: [], refusal: 'leaving' });
    const claimed = walk([{ type: 'trial-asked', takeId: 'a' }, { type: 'quit-asked' }]);
    expect(stepLife(claimed, { type: 'prepared' }).effects).toEqual(['give-up', 'end']);
    const rolling = walk([{ type: 'trial-asked', takeId: 'a' }, { type: 'prepared' }, { type: 'quit-asked' }]);
    for (const well of [true, false]) {
      const step = stepLife(rolling, { type: 'container-closed', well });
      expect([step.state.phase, step.effects]).toEqual(['idle', ['end']]);
    }
  });

  it('counts jobs until each has ended, and takes none that was left away', () => {
    const jobs = walk([{ type: 'job-asked' }, { type: 'job-asked' }, { type: 'job-ended' }]);
    expect(jobs.jobs).toBe(1);
    expect(stepLife(jobs, { type: 'orphan-found', takeId: 'a', left: 'closed' }).refusal).toBe('job-running');
    expect(walk([{ type: 'job-ended' }], jobs).jobs).toBe(0);
    expect(walk([{ type: 'job-ended' }, { type: 'job-ended' }], jobs).jobs).toBe(0);
  });

  it('is described by its page in docs', () => {
    const page = readFileSync(join(__dirname, '../../../../docs/recorder-states.md'), 'utf8');
    expect(page).toContain(lifeTable());
  });
});
