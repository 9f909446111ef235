import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useState,
  type ReactNode,
} from 'react';

/** What was typed into a field and refused, what the value was then, and why. */
export type Refusal = { text: string; at: string; why: string };

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
  /** Refusals that are open, by what they are about. */
  refusals: ReadonlyMap<string, Refusal>;
  /** Opens a refusal, or ends it. */
  refuse: (key: string, r: Refusal | undefined) => void;
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
  const [refusals, setRefusals] = useState<ReadonlyMap<string, Refusal>>(new Map());
  const refuse = useCallback(
    (key: string, r: Refusal | undefined) =>
      setRefusals((all) => {
        const some = new Map(all);
        if (r) {
          some.set(key, r);
        } else if (!some.delete(key)) {
          return all;
        }
        return some;
      }),
    [],
  );
  useEffect(() => {
    localStorage.setItem(KEY, JSON.stringify({ frame, shotId, runId, theme }));
  }, [frame, shotId, runId, theme]);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const value = useMemo(
    () => ({
      frame,
      setFrame,
      shotId,
      setShotId,
      runId,
      setRunId,
      theme,
      setTheme,
      refusals,
      refuse,
    }),
    [frame, shotId, runId, theme, refusals, refuse],
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
