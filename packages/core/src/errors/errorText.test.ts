import { errorCode, errorText } from './errorText';

const withCode = (message: string, code: string): Error => Object.assign(new Error(message), { code });

describe('errorText', () => {
  it.each([
    ['an error', new Error('no room'), 'no room'],
    ['a text that was thrown', 'no room', 'no room'],
    ['what wraps another', new Error('Failed query', { cause: new Error('no room') }), 'no room'],
    ['three of them', new Error('a', { cause: new Error('b', { cause: new Error('c') }) }), 'c'],
    ['a cause without words', new Error('no room', { cause: new Error('') }), 'no room'],
    ['several that came together', new AggregateError([new Error('first'), new Error('second')], 'all'), 'first'],
    ['an error without words', new TypeError(''), 'TypeError'],
    ['nothing', undefined, 'undefined'],
  ])('says the reason of %s', (_what, error, text) => expect(errorText(error)).toBe(text));

  it('ends where an error causes itself', () => {
    const round = new Error('round');
    round.cause = round;
    expect(errorText(round)).toBe('round');
  });
});

describe('errorCode', () => {
  it('finds the code inside', () =>
    expect(errorCode(new Error('Failed query', { cause: withCode('full', 'SQLITE_FULL') }))).toBe('SQLITE_FULL'));
  it('takes the outermost that has one', () =>
    expect(errorCode(Object.assign(withCode('a', 'ENOSPC'), { cause: withCode('b', 'EIO') }))).toBe('ENOSPC'));
  it('is null where none has one', () => expect(errorCode(new Error('plain'))).toBeNull());
});
