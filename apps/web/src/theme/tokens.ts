/** Colours of both schemes; everything on the screen takes them from here, as CSS variables of the same names. */
export interface Tokens {
  page: string;
  card: string;
  well: string;
  line: string;
  tick: string;
  faint: string;
  ink: string;
  soft: string;
  accent: string;
  accentInk: string;
  onAccent: string;
  over: string;
  scrim: string;
  game: string;
  gameInk: string;
  capture: string;
  captureInk: string;
  size: string;
  sizeInk: string;
  encode: string;
  encodeInk: string;
  pack: string;
  packInk: string;
  drive: string;
  driveInk: string;
  sound: string;
  soundInk: string;
}

export const oat: Tokens = {
  page: '#F6F1E7',
  card: '#FFFCF5',
  well: '#EFE8DA',
  line: '#E4DBC9',
  tick: '#8F8468',
  faint: '#C9BCA3',
  ink: '#2A2730',
  soft: '#6B6472',
  accent: '#D9783F',
  accentInk: '#94491A',
  onAccent: '#2A2730',
  over: '#B3402E',
  scrim: 'rgba(42,39,48,.2)',
  game: '#6E9277',
  gameInk: '#456650',
  capture: '#3A8F8C',
  captureInk: '#1B6664',
  size: '#9C8333',
  sizeInk: '#725C1A',
  encode: '#8A5E8F',
  encodeInk: '#76497B',
  pack: '#A8674F',
  packInk: '#874C36',
  drive: '#5F6F93',
  driveInk: '#4C5C80',
  sound: '#A94A73',
  soundInk: '#86305A',
};

export const dusk: Tokens = {
  page: '#211A1E',
  card: '#2C2328',
  well: '#382C32',
  line: '#43353C',
  tick: '#8E7A84',
  faint: '#64525B',
  ink: '#F1EBDD',
  soft: '#B5A4AC',
  accent: '#F0A36B',
  accentInk: '#F0A36B',
  onAccent: '#211A1E',
  over: '#E8887A',
  scrim: 'rgba(0,0,0,.5)',
  game: '#93B69B',
  gameInk: '#A5C5AC',
  capture: '#75B4CA',
  captureInk: '#8AC3D7',
  size: '#C9B062',
  sizeInk: '#D6C07A',
  encode: '#B98BBF',
  encodeInk: '#CBA4D0',
  pack: '#CC8D76',
  packInk: '#DCA28D',
  drive: '#8E9EC4',
  driveInk: '#A5B3D3',
  sound: '#D88BA2',
  soundInk: '#E5A2B6',
};

const cssName = (name: string): string => `--${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`;

/** The tokens as CSS variables. */
export const cssVariables = (tokens: Tokens): Record<string, string> =>
  Object.fromEntries(Object.entries(tokens).map(([name, value]) => [cssName(name), String(value)]));

export const wordFont = '"Figtree Variable", sans-serif';
export const figureFont = '"JetBrains Mono Variable", monospace';
