import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';

/** What stays put when the station changes. */
type Session = {
  frame: number;
  setFrame: (f: number) => void;
  shotId: number | undefined;
  setShotId: (id: number | undefined) => void;
  runId: number | undefined;
  setRunId: (id: number | undefined) => void;
  theme: 'dim' | 'paper';
  setTheme: (t: 'dim' | 'paper') => void;
};

const Context = createContext<Session | null>(null);
const KEY = 'posada-session';

function stored(): Partial<Session> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Session>;
  } catch {
    return {};
  }
}

export function SessionProvider({ children }: { children: ReactNode }) {
  const [start] = useState(stored);
  const [frame, setFrame] = useState(start.frame ?? 1);
  const [shotId, setShotId] = useState(start.shotId);
  const [runId, setRunId] = useState(start.runId);
  const [theme, setTheme] = useState<'dim' | 'paper'>(start.theme ?? 'dim');
  useEffect(() => {
    localStorage.setItem(KEY, JSON.stringify({ frame, shotId, runId, theme }));
  }, [frame, shotId, runId, theme]);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const value = useMemo(
    () => ({ frame, setFrame, shotId, setShotId, runId, setRunId, theme, setTheme }),
    [frame, shotId, runId, theme],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useSession(): Session {
  const s = useContext(Context);
  if (!s) {
    throw new Error('useSession needs a SessionProvider');
  }
  return s;
}
