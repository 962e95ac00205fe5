'use client';
import { createTheme, ThemeProvider } from '@mui/material/styles';
import type { ReactNode } from 'react';

const FONT = '"Commissioner Variable", system-ui, sans-serif';

const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#1D5C50' },
        error: { main: '#A3243B' },
        warning: { main: '#A97F1F' },
        background: { default: '#F4F2EC', paper: '#FDFCF9' },
        text: { primary: '#1C2A2D', secondary: '#5a686a' },
        divider: '#DAD6CB',
      },
    },
    dark: {
      palette: {
        primary: { main: '#6FBFAE' },
        error: { main: '#F08A97' },
        warning: { main: '#DDB55A' },
        background: { default: '#161C1E', paper: '#1E2628' },
        text: { primary: '#E8E6DF', secondary: '#A3AFAF' },
        divider: '#37423F',
      },
    },
  },
  typography: { fontFamily: FONT, fontSize: 13, button: { textTransform: 'none' } },
  shape: { borderRadius: 6 },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiTooltip: {
      defaultProps: { arrow: true, enterDelay: 500 },
      styleOverrides: { tooltip: { backgroundColor: '#1C2A2D', color: '#FDFCF9', fontSize: 12, border: '1px solid #DAD6CB' }, arrow: { color: '#1C2A2D' } },
    },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 32 } } },
    MuiDialogTitle: { styleOverrides: { root: { fontSize: 17, fontWeight: 650 } } },
  },
});

export function Theme({ children }: { children: ReactNode }) {
  return (
    <ThemeProvider theme={theme} defaultMode="light" disableTransitionOnChange>
      {children}
    </ThemeProvider>
  );
}
