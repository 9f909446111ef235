import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';

type Notice = {
  id: number;
  text: string;
  bad: boolean;
  action?: { label: string; run: () => void };
  about?: string;
};
type Notices = {
  /** Says a sentence; what was said `about` the same before goes. */
  tell: (text: string, options?: Partial<Pick<Notice, 'bad' | 'action' | 'about'>>) => void;
  /** Takes back what was said about something. */
  mended: (about: string) => void;
};

const Context = createContext<Notices>({ tell: () => undefined, mended: () => undefined });
const SHOWN_MS = 8000;
let next = 1;

/** Short sentences over the ribbon's upper edge: what was done, what failed, how to take it back. */
export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<Notice[]>([]);
  const close = useCallback(
    (id: number) => setNotices((all) => all.filter((n) => n.id !== id)),
    [],
  );
  const value = useMemo<Notices>(() => {
    const mended = (about: string) => setNotices((all) => all.filter((n) => n.about !== about));
    const tell: Notices['tell'] = (text, { bad = false, action, about } = {}) => {
      const id = next++;
      if (about) {
        mended(about);
      }
      setNotices((all) => [...all.slice(-2), { id, text, bad, action, about }]);
      if (!bad) {
        setTimeout(() => close(id), SHOWN_MS);
      }
    };
    return { tell, mended };
  }, [close]);
  return (
    <Context.Provider value={value}>
      {children}
      <div
        className="fixed bottom-20 left-60 z-30 flex max-w-200 flex-col items-start gap-2"
        role="status"
      >
        {notices.map((n) => (
          <div key={n.id} className="flex gap-4 rounded-sm border border-t2 bg-up px-4 py-1.5">
            <span>
              {n.bad && <span className="mr-2 font-semibold text-bad">Failed</span>}
              {n.text}
            </span>
            {n.action && (
              <button
                className="shrink-0 underline underline-offset-3"
                onClick={() => {
                  n.action?.run();
                  close(n.id);
                }}
              >
                {n.action.label}
              </button>
            )}
            <button className="shrink-0 text-t2" aria-label="Close" onClick={() => close(n.id)}>
              ✕
            </button>
          </div>
        ))}
      </div>
    </Context.Provider>
  );
}

export const useNotices = () => useContext(Context);
export const useTell = () => useNotices().tell;
