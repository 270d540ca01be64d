import { problem } from './problem';

describe('problems', () => {
  it('carry a stable type, a status and the whole story', () => {
    expect(problem('recorder-busy', 'Trial 3 is rolling.').problem).toEqual({
      type: '/problems/recorder-busy',
      title: 'A take is rolling',
      status: 409,
      detail: 'Trial 3 is rolling.',
    });
    expect(problem('bad-request', 'x', [{ path: 'name', message: 'missing' }]).problem.fields).toHaveLength(1);
  });
});
