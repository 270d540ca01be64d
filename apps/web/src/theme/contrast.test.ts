import { dusk, oat, type Tokens } from './tokens';

/** Relative luminance and contrast as WCAG 2.2 defines them. */
function luminance(hex: string): number {
  const channels = [1, 3, 5]
    .map((i) => parseInt(hex.slice(i, i + 2), 16) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
  return 0.2126 * (channels[0] ?? 0) + 0.7152 * (channels[1] ?? 0) + 0.0722 * (channels[2] ?? 0);
}
const contrast = (a: string, b: string) => {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return ((light ?? 0) + 0.05) / ((dark ?? 0) + 0.05);
};

describe.each([
  ['oat', oat],
  ['dusk', dusk],
] as [string, Tokens][])('%s', (_, t) => {
  it('black on white is 21 (WCAG 2.2)', () => expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 5));
  it.each([
    'ink',
    'soft',
    'accentInk',
    'over',
    'gameInk',
    'captureInk',
    'sizeInk',
    'encodeInk',
    'packInk',
    'driveInk',
    'soundInk',
  ] as const)('%s is readable on page and card (AA, 4.5)', (name) => {
    expect(contrast(t[name], t.page)).toBeGreaterThanOrEqual(4.5);
    expect(contrast(t[name], t.card)).toBeGreaterThanOrEqual(4.5);
  });
  it('the filled button is readable', () => expect(contrast(t.onAccent, t.accent)).toBeGreaterThanOrEqual(4.5));
  it.each(['page', 'card', 'well'] as const)('what can be grabbed stands out from %s (3:1)', (ground) =>
    expect(contrast(t.tick, t[ground])).toBeGreaterThanOrEqual(3),
  );
});
