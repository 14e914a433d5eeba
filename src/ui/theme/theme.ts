import { createTheme, type Theme } from '@mui/material/styles';
import { DAY, FONT, NIGHT, type Tokens } from './tokens';

declare module '@mui/material/styles' {
  interface Theme {
    ink: Tokens;
  }
  interface ThemeOptions {
    ink?: Tokens;
  }
}

/** MUI carries behaviour and accessibility; everything that is seen is ours. */
export function makeTheme(mode: 'night' | 'day'): Theme {
  const ink = mode === 'night' ? NIGHT : DAY;
  return createTheme({
    ink,
    palette: {
      mode: mode === 'night' ? 'dark' : 'light',
      primary: { main: mode === 'night' ? ink.paper : ink.paperText },
      error: { main: ink.selected },
      background: { default: ink.ground, paper: ink.sheet },
      text: { primary: ink.sheetText, secondary: ink.sheetFaint },
    },
    shape: { borderRadius: 0 },
    shadows: Array(25).fill('none') as Theme['shadows'],
    typography: {
      fontFamily: FONT.text,
      fontSize: 14,
      htmlFontSize: 16,
      h1: {
        fontFamily: FONT.head,
        fontWeight: 800,
        fontSize: '2.6rem',
        lineHeight: 1.05,
        letterSpacing: '-0.02em',
      },
      h2: {
        fontFamily: FONT.head,
        fontWeight: 750,
        fontSize: '1.4rem',
        lineHeight: 1.2,
        letterSpacing: '-0.01em',
      },
      h3: { fontFamily: FONT.head, fontWeight: 700, fontSize: '1.02rem', lineHeight: 1.25 },
      body1: { fontSize: '0.94rem', lineHeight: 1.35 },
      body2: { fontSize: '0.84rem', lineHeight: 1.3 },
      button: { fontFamily: FONT.text, fontWeight: 700, textTransform: 'none', fontSize: '0.9rem' },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          html: { height: '100%' },
          body: {
            height: '100%',
            overflow: 'hidden',
            backgroundColor: ink.ground,
            overscrollBehavior: 'none',
          },
          '*:focus-visible': { outline: `3px solid ${ink.now}`, outlineOffset: 2 },
          '*': { scrollbarColor: `${ink.track} transparent`, scrollbarWidth: 'thin' },
          '@media (prefers-reduced-motion: reduce)': {
            '*': { animationDuration: '0.001s !important', transitionDuration: '0.001s !important' },
          },
        },
      },
      MuiButtonBase: {
        defaultProps: { disableRipple: true, disableTouchRipple: true },
        styleOverrides: { root: { fontFamily: FONT.text } },
      },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: {
          root: {
            minHeight: 34,
            padding: '4px 14px',
            lineHeight: 1.2,
            '&.Mui-disabled': { color: ink.sheetFaint, opacity: 0.75 },
          },
          contained: {
            backgroundColor: ink.paper,
            color: ink.paperText,
            clipPath:
              'polygon(0 2px, 34% 0, 71% 1px, 100% 0, calc(100% - 1px) 60%, 100% 100%, 55% calc(100% - 1px), 20% 100%, 0 calc(100% - 2px))',
            '&:hover': { backgroundColor: ink.paperShade },
          },
          outlined: {
            border: `2px solid ${ink.track}`,
            color: ink.sheetText,
            '&:hover': { border: `2px solid ${ink.sheetText}`, backgroundColor: 'transparent' },
          },
          text: {
            color: ink.sheetText,
            minWidth: 0,
            padding: '4px 8px',
            // The one quiet mark of what can be pressed: a cut under the word. A label has none.
            backgroundImage: 'linear-gradient(currentColor, currentColor)',
            backgroundSize: 'calc(100% - 16px) 2px',
            backgroundPosition: '8px calc(100% - 5px)',
            backgroundRepeat: 'no-repeat',
            // On sheets and on paper alike, whose text it has.
            '&:hover': { backgroundColor: 'color-mix(in srgb, currentColor 14%, transparent)' },
          },
        },
      },
      MuiCheckbox: {
        styleOverrides: {
          root: {
            color: 'inherit',
            '&.Mui-checked': { color: 'inherit' },
            '& svg': { display: 'none' },
            '&::before': { content: '""', width: 16, height: 16, border: '2px solid currentColor' },
            '&.Mui-checked::before': {
              background: 'linear-gradient(currentColor, currentColor) center / 10px 10px no-repeat',
            },
          },
        },
      },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiMenu: { styleOverrides: { paper: { ...onPaper(ink), marginTop: 4 } } },
      MuiMenuItem: {
        styleOverrides: {
          root: {
            minHeight: 36,
            fontSize: '0.94rem',
            '&:hover, &.Mui-focusVisible': { backgroundColor: ink.paperShade },
            '&.Mui-selected, &.Mui-selected:hover': { backgroundColor: ink.paperDeep },
          },
        },
      },
      MuiDialog: { styleOverrides: { paper: onPaper(ink) } },
      // What fades away is gone already: it would swallow the next press.
      MuiModal: {
        styleOverrides: {
          root: ({ ownerState }) =>
            ownerState.open ? {} : { pointerEvents: 'none', '& *': { pointerEvents: 'none' } },
        },
      },
      MuiTooltip: {
        defaultProps: { enterDelay: 500, arrow: false },
        styleOverrides: {
          tooltip: {
            backgroundColor: ink.paper,
            color: ink.paperText,
            fontSize: '0.84rem',
            padding: '6px 10px',
          },
        },
      },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { '& fieldset': { borderWidth: 2, borderColor: ink.track } },
          input: { padding: '7px 10px' },
        },
      },
      MuiSelect: { styleOverrides: { select: { paddingTop: 7, paddingBottom: 7 } } },
      MuiSwitch: {
        styleOverrides: {
          root: { padding: 8 },
          track: {
            borderRadius: 0,
            backgroundColor: `var(--bed, ${ink.track}) !important`,
            opacity: '1 !important',
          },
          thumb: { borderRadius: 0, color: `var(--mark, ${ink.sheetText})` },
        },
      },
    },
  });
}

/** Paper that is laid over the rest: its controls are printed in ink, whatever the theme. */
function onPaper(ink: Tokens): object {
  return {
    backgroundColor: ink.paper,
    color: ink.paperText,
    '--mark': ink.paperText,
    '--bed': ink.paperDeep,
    '--faint': ink.paperFaint,
    '& .MuiButton-text, & .MuiButton-outlined': { color: ink.paperText },
    '& .MuiButton-text:hover': { backgroundColor: ink.paperShade },
    '& .MuiButton-outlined': { borderColor: ink.paperFaint },
    '& .MuiButton-contained': {
      backgroundColor: ink.paperText,
      color: ink.paper,
      '&:hover': { backgroundColor: ink.paperFaint },
    },
  };
}
