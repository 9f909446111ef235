import { useEffect, useState, useSyncExternalStore } from 'react';

export type Theme = 'dim' | 'paper';

const KEY = 'posada-theme';

/** The theme, kept in the browser: it is comfort, and says nothing of where one is. */
export function useTheme(): [Theme, (t: Theme) => void] {
  const [theme, setTheme] = useState<Theme>(() =>
    localStorage.getItem(KEY) === 'paper' ? 'paper' : 'dim',
  );
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
    localStorage.setItem(KEY, theme);
  }, [theme]);
  return [theme, setTheme];
}

function listen(heard: () => void) {
  const watch = new MutationObserver(heard);
  watch.observe(document.documentElement, { attributeFilter: ['data-theme'] });
  return () => watch.disconnect();
}

/** The theme of now, for what is drawn by hand. */
export const useThemeName = () =>
  useSyncExternalStore(listen, () => document.documentElement.dataset.theme);
