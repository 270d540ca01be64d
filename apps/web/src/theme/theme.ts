import { createTheme } from '@mui/material/styles';
import { cssVariables, dusk, oat, wordFont, type Tokens } from './tokens';

const palette = (t: Tokens) => ({
  primary: { main: t.accent, dark: t.accentInk, contrastText: t.onAccent },
  error: { main: t.over },
  text: { primary: t.ink, secondary: t.soft },
  background: { default: t.page, paper: t.card },
  divider: t.line,
});

/** One theme, two schemes: oat (light) and dusk (dark). */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: '[data-scheme="%s"]' },
  colorSchemes: { light: { palette: palette(oat) }, dark: { palette: palette(dusk) } },
  typography: {
    fontFamily: wordFont,
    fontSize: 14,
    body1: { fontSize: 14, lineHeight: '20px', letterSpacing: 0 },
    button: { textTransform: 'none', fontWeight: 600, fontSize: 14, letterSpacing: 0 },
  },
  shape: { borderRadius: 8 },
  transitions: {
    duration: {
      shortest: 150,
      shorter: 150,
      short: 150,
      standard: 150,
      complex: 150,
      enteringScreen: 150,
      leavingScreen: 150,
    },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        ':root, [data-scheme="light"]': { ...cssVariables(oat), colorScheme: 'light' },
        '[data-scheme="dark"]': { ...cssVariables(dusk), colorScheme: 'dark' },
      },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiPaper: { defaultProps: { elevation: 0 } },
    MuiDialog: {
      styleOverrides: { paper: { border: '1px solid var(--tick)', borderRadius: 12, backgroundImage: 'none' } },
    },
    MuiMenu: {
      styleOverrides: { paper: { border: '1px solid var(--tick)', borderRadius: 8, backgroundImage: 'none' } },
    },
    MuiTooltip: { styleOverrides: { tooltip: { background: 'var(--ink)', color: 'var(--page)', fontSize: 12 } } },
  },
});
