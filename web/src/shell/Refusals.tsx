import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';

/** What was typed into a field and refused, what the value was then, and why. */
export type Refusal = { text: string; at: string; why: string };

type Refusals = {
  /** Refusals that are open, by what they are about. */
  refusals: ReadonlyMap<string, Refusal>;
  /** Opens a refusal, or ends it. */
  refuse: (key: string, r: Refusal | undefined) => void;
};

const Context = createContext<Refusals>({ refusals: new Map(), refuse: () => undefined });

/** Keeps what was typed and refused while one looks at other things. */
export function RefusalProvider({ children }: { children: ReactNode }) {
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
  const value = useMemo(() => ({ refusals, refuse }), [refusals, refuse]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export const useRefusals = () => useContext(Context);
