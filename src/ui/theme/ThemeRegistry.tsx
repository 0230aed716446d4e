'use client';

import { createTheme, ThemeProvider } from '@mui/material/styles';
import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';

export type ThemeName = 'day' | 'night';

const ThemeChoice = createContext<{ name: ThemeName; choose: (name: ThemeName) => void }>({
  name: 'day',
  choose: () => undefined,
});

/** The theme in force and how to change it. */
export const useThemeChoice = () => useContext(ThemeChoice);

/** Colours of the components library follow the same tokens as our own style sheet. */
function themeFor(name: ThemeName) {
  const night = name === 'night';
  return createTheme({
    palette: {
      mode: night ? 'dark' : 'light',
      primary: { main: night ? '#FF8A57' : '#AE3D0D', contrastText: night ? '#14171C' : '#FBFAF6' },
      secondary: { main: night ? '#6FC3D0' : '#175E6B' },
      error: { main: night ? '#F0786C' : '#A92A20' },
      background: { default: night ? '#14171C' : '#F3F1EA', paper: night ? '#1B1F26' : '#FBFAF6' },
      text: { primary: night ? '#ECE9E1' : '#20242C', secondary: night ? '#B4B8BF' : '#565C66' },
      divider: night ? '#303641' : '#D5D0C3',
    },
    shape: { borderRadius: 3 },
    typography: {
      fontFamily: "'Archivo Variable', system-ui, sans-serif",
      fontSize: 13,
      button: { textTransform: 'none', fontWeight: 600 },
    },
    components: {
      MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
      MuiTextField: { defaultProps: { size: 'small', fullWidth: true, variant: 'outlined' } },
      MuiDialog: { defaultProps: { fullWidth: true } },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiTooltip: { defaultProps: { enterDelay: 400 } },
      MuiInputBase: { styleOverrides: { root: { fontSize: 13 }, input: { height: '1.3em' } } },
      MuiInputLabel: { styleOverrides: { root: { fontSize: 13 } } },
      MuiMenuItem: { styleOverrides: { root: { fontSize: 13 } } },
    },
  });
}

/** `initial` is what the person chose, or null: then the first visit takes what the system prefers. */
export function ThemeRegistry({ initial, children }: { initial: ThemeName | null; children: ReactNode }) {
  const [name, setName] = useState<ThemeName>(initial ?? 'day');
  const theme = useMemo(() => themeFor(name), [name]);
  const choice = useMemo(
    () => ({
      name,
      choose: (next: ThemeName) => {
        document.documentElement.dataset.theme = next;
        document.cookie = `bolide-theme=${next}; path=/; max-age=31536000; samesite=strict`;
        setName(next);
      },
    }),
    [name],
  );
  useEffect(() => {
    if (initial === null && window.matchMedia('(prefers-color-scheme: dark)').matches) choice.choose('night');
    // once, when nobody has chosen yet
    // oxlint-disable-next-line react/exhaustive-deps
  }, []);
  return (
    <ThemeChoice.Provider value={choice}>
      <ThemeProvider theme={theme}>{children}</ThemeProvider>
    </ThemeChoice.Provider>
  );
}
