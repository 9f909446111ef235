import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';

type Notice = {
  id: number;
  text: string;
  bad: boolean;
  action?: { label: string; run: () => void };
};
type Tell = (text: string, options?: { bad?: boolean; action?: Notice['action'] }) => void;

const Context = createContext<Tell>(() => undefined);
const SHOWN_MS = 8000;
let next = 1;

/** Short sentences at the lower edge: what was done, what failed, how to take it back. */
export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<Notice[]>([]);
  const close = useCallback(
    (id: number) => setNotices((all) => all.filter((n) => n.id !== id)),
    [],
  );
  const tell = useCallback<Tell>(
    (text, { bad = false, action } = {}) => {
      const id = next++;
      setNotices((all) => [...all.slice(-2), { id, text, bad, action }]);
      if (!bad) {
        setTimeout(() => close(id), SHOWN_MS);
      }
    },
    [close],
  );
  const value = useMemo(() => tell, [tell]);
  return (
    <Context.Provider value={value}>
      {children}
      <div className="fixed bottom-30 left-5 z-30 flex max-w-140 flex-col gap-2" role="status">
        {notices.map((n) => (
          <div key={n.id} className="flex gap-4 rounded-sm border border-t2 bg-up px-4 py-2">
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

export const useTell = () => useContext(Context);
