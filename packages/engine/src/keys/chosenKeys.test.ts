import { createChosenKeys } from './chosenKeys';
import { codesByNumber } from './keyCodes';

const plain = { ctrl: false, alt: false, shift: false, meta: false };
const f9 = { ...plain, code: 'F9' };

it('tells a chosen key once, however long it repeats, and its end whatever modifiers are down by then', () => {
  const keys = createChosenKeys();
  keys.choose([
    { action: 'roll', binding: { ...f9, ctrl: true } },
    { action: 'mark', binding: f9 },
  ]);
  expect(keys.down(f9)).toBe('mark');
  expect(keys.down(f9)).toBeNull();
  expect(keys.up('F9')).toBe('mark');
  expect(keys.up('F9')).toBeNull();
  expect(keys.down({ ...f9, ctrl: true })).toBe('roll');
  expect(keys.up('F9')).toBe('roll');
});

it('is deaf for all others, with one modifier more too', () => {
  const keys = createChosenKeys();
  keys.choose([{ action: 'mark', binding: f9 }]);
  for (const key of [
    { ...f9, shift: true },
    { ...f9, meta: true },
    { ...plain, code: 'KeyA' },
    { ...plain, code: '' },
  ])
    expect([keys.down(key), keys.up(key.code)]).toEqual([null, null]);
  keys.choose([]);
  expect(keys.down(f9)).toBeNull();
});

it('names keys by their place as keyboard events do, and leaves modifiers out', () => {
  const codes = codesByNumber({ A: 30, 7: 8, F9: 67, Insert: 3666, Ctrl: 29, ShiftRight: 54, Numpad1: 79 });
  expect([...codes.values()].sort()).toEqual(['Digit7', 'F9', 'Insert', 'KeyA', 'Numpad1']);
});
