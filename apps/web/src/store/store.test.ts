import { idleState, type LiveState } from '@mellow/model';
import { problemOf } from './problemOf';
import { connectionLost, liveArrived, noticePutAway, problemRaised } from './liveSlice';
import { createStore } from './store';

const idle: LiveState = { ...idleState, serial: 1 };

describe('the store', () => {
  it('follows the recorder and notices when it is gone', () => {
    const store = createStore();
    store.dispatch(liveArrived(idle));
    store.dispatch(connectionLost());
    expect(store.getState().live).toMatchObject({ connected: false, state: idle });
    store.dispatch(liveArrived({ ...idle, serial: 2 }));
    expect(store.getState().live.connected).toBe(true);
  });
  it('keeps what was put away put away', () => {
    createStore().dispatch(noticePutAway(77));
    expect(localStorage.getItem('mellow-notice-seen')).toBe('77');
  });
  it('shows one problem once, and at most three', () => {
    const store = createStore();
    const problem = (detail: string) => ({ type: 'x', title: 'x', status: 400, detail });
    for (const detail of ['a', 'a', 'b', 'c', 'd']) store.dispatch(problemRaised(problem(detail)));
    expect(store.getState().live.problems.map((p) => p.problem.detail)).toEqual(['b', 'c', 'd']);
  });
  it('has words for an answer that is none', () => {
    expect(problemOf({ status: 'FETCH_ERROR', error: 'x' }).title).toBe('Mellow Frame does not answer');
    expect(
      problemOf({ status: 409, data: { type: '/problems/recorder-busy', title: 'T', status: 409, detail: 'D' } })
        .detail,
    ).toBe('D');
    expect(problemOf({ status: 200, data: 5 }).type).toBe('/problems/unreadable');
  });
});
