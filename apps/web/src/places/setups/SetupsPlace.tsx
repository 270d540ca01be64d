import { capitalised, countWord, listWords } from '@mellow/core';
import type { Setup, Take } from '@mellow/model';
import { EmptyPlace } from '../../parts/Message';
import { useRemoveSetupMutation, useSetupsQuery, useTakesQuery } from '../../store/api';
import { QueryGate } from '../shell/QueryGate';
import { BeginSetup } from './BeginSetup';
import { SetupRows } from './SetupRows';
import { setupState, type SetupState } from './setupState';

const order: SetupState['kind'][] = ['clash', 'look', 'wants-trial', 'new', 'ready'];
const countWords: Record<SetupState['kind'], (n: number) => string> = {
  clash: (n) => `${countWord(n)} ${n === 1 ? 'has' : 'have'} a clash`,
  look: (n) => `${countWord(n)} ${n === 1 ? 'wants' : 'want'} another look`,
  'wants-trial': (n) => `${countWord(n)} ${n === 1 ? 'wants' : 'want'} a trial`,
  new: (n) => `${countWord(n)} ${n === 1 ? 'is' : 'are'} new`,
  ready: (n) => `${countWord(n)} ${n === 1 ? 'is' : 'are'} tried and kept`,
};

/** "Two are tried and kept, one wants a trial." */
export function setupsSentence(setups: readonly Setup[], takes: readonly Take[]): string {
  if (!setups.length) return 'No setup yet.';
  const kinds = setups.map(
    (s) =>
      setupState(
        s,
        takes.filter((t) => t.setupId === s.id),
      ).kind,
  );
  const parts = [...order].reverse().flatMap((kind) => {
    const n = kinds.filter((k) => k === kind).length;
    return n ? [countWords[kind](n)] : [];
  });
  if (setups.length === 1) return `One setup, and it ${(parts[0] ?? '').replace(/^one /, '')}.`;
  return `${capitalised(countWord(setups.length))} ${setups.length === 1 ? 'setup' : 'setups'}: ${listWords(parts)}.`;
}

/** Setups: all of them with state and next step. */
export function SetupsPlace() {
  const setups = useSetupsQuery();
  const takes = useTakesQuery();
  const [remove] = useRemoveSetupMutation();
  return (
    <QueryGate queries={[setups, takes]} what="Reading the setups">
      {() => {
        const all = setups.data ?? [];
        const own = all.filter((s) => !s.demo);
        const demo = all.filter((s) => s.demo);
        const shown = takes.data ?? [];
        return (
          <div className="page">
            <div className="steps-line">
              <b>Setups</b>
              <span className="soft">a game, a brief and a machine, with every recipe tried</span>
            </div>
            <h1 style={{ margin: '8px 0 16px' }}>{setupsSentence(own.length ? own : all, shown)}</h1>
            {own.length === 0 && (
              <EmptyPlace title="No setup of your own yet.">
                Choose below what the footage is for.{demo.length ? ' The demo’s setups stand under it.' : ''}
              </EmptyPlace>
            )}
            <SetupRows
              setups={own}
              takes={shown}
              main={own[0]?.id ?? null}
              onRemove={(setup) => void remove(setup.id)}
            />
            <div style={{ height: 24 }} />
            <BeginSetup />
            {demo.length > 0 && (
              <>
                <p className="row" style={{ margin: '24px 0 8px' }}>
                  <b>Setups of the demo</b>
                  <span className="soft">measured on the PC the demo was made on, or simulated where it says so</span>
                </p>
                <SetupRows setups={demo} takes={shown} main={null} />
              </>
            )}
          </div>
        );
      }}
    </QueryGate>
  );
}
