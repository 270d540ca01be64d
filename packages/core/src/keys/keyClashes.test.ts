import * as fc from 'fast-check';
import { keyActions, type Binding, type Bindings } from '@mellow/model';
import { bindingWords, bindingsOf, keyClashes, plainKey, sameBinding, startBindings } from './index';

const none = Object.fromEntries(keyActions.map((action) => [action, null])) as Bindings;
const key = (code: string, held: Partial<Binding> = {}): Binding => ({ ...plainKey, code, ...held });
const kinds = (bindings: Partial<Bindings>, gameKeys: string[] = []) =>
  keyClashes({ ...none, ...bindings }, gameKeys).map((clash) => [clash.action, clash.with]);

it('the keys to begin with clash with nothing', () => expect(keyClashes(startBindings, [])).toEqual([]));

it('finds who else hears a key: another action, the system, the game, this page, the browser, a chat', () => {
  expect(kinds({ mark: key('Insert'), keep: key('Insert') })).toEqual([
    ['mark', 'action'],
    ['keep', 'action'],
  ]);
  expect(kinds({ roll: key('F4', { alt: true }) })).toEqual([['roll', 'system']]);
  expect(kinds({ roll: key('KeyY', { meta: true }) })).toEqual([['roll', 'system']]);
  expect(kinds({ roll: key('PrintScreen') })).toEqual([['roll', 'system']]);
  // However a keyboard event names it: by its letter, its name, or a space.
  for (const [code, name] of [
    ['Insert', 'Insert'],
    ['KeyG', 'G'],
    ['KeyG', 'g'],
    ['Space', ' '],
    ['ArrowLeft', 'ArrowLeft'],
    ['PageDown', 'PageDown'],
    ['Digit1', '1'],
  ] as const)
    expect(kinds({ mark: key(code) }, [name])).toEqual([['mark', 'game']]);
  // A game seldom looks at modifiers, and uses some of them.
  expect(kinds({ mark: key('KeyG', { ctrl: true, alt: true }) }, ['g'])).toEqual([['mark', 'game']]);
  expect(kinds({ mark: key('F9', { shift: true }) }, ['Shift'])).toEqual([['mark', 'game']]);
  expect(kinds({ mark: key('KeyM') })).toEqual([['mark', 'page']]);
  expect(kinds({ roll: key('F5') })).toEqual([['roll', 'browser']]);
  expect(kinds({ roll: key('KeyW', { ctrl: true }) })).toEqual([['roll', 'browser']]);
  expect(kinds({ roll: key('KeyG') })).toEqual([['roll', 'game']]);
  expect(kinds({ roll: key('F9') })).toEqual([]);
});

const anyBinding = fc.record({
  code: fc.constantFrom('KeyM', 'KeyG', 'F5', 'F9', 'Insert', 'ScrollLock', 'PageDown', 'Space', 'Digit1', 'F4'),
  ctrl: fc.boolean(),
  alt: fc.boolean(),
  shift: fc.boolean(),
  meta: fc.boolean(),
});
it('the key it proposes instead clashes with nothing any more', () => {
  fc.assert(
    fc.property(
      fc.record(Object.fromEntries(keyActions.map((action) => [action, fc.option(anyBinding)]))),
      fc.uniqueArray(fc.constantFrom('Insert', 'm', 'g', 'F9', 'PageDown', 'Control', ' ', 'ScrollLock', 'End'), {
        maxLength: 8,
      }),
      (drawn, gameKeys) => {
        const bindings = drawn as Bindings;
        for (const { action, instead, title } of keyClashes(bindings, gameKeys)) {
          expect(title).toContain(bindingWords(bindings[action]!));
          if (!instead) continue;
          expect(keyClashes({ ...bindings, [action]: instead }, gameKeys).map((clash) => clash.action)).not.toContain(
            action,
          );
        }
      },
    ),
  );
});

it('names keys as they stand on them', () => {
  const words = [key('KeyY', { ctrl: true, shift: true }), key('Digit7'), key('Numpad3'), key('PageDown'), key('F12')];
  expect(words.map(bindingWords)).toEqual(['Ctrl Shift Y', '7', 'Num 3', 'Page Down', 'F12']);
  expect(sameBinding(key('F9'), key('F9', { shift: true }))).toBe(false);
});

it('a setup’s own keys take the place of the common ones, also where it wants none', () => {
  const settings = { on: true, setupId: 'a', common: startBindings, bySetup: { a: { mark: null, talk: key('F9') } } };
  expect(bindingsOf(settings, 'a')).toEqual({ ...startBindings, mark: null, talk: key('F9') });
  expect(bindingsOf(settings, 'b')).toEqual(startBindings);
  expect(bindingsOf(settings, null)).toEqual(startBindings);
});
