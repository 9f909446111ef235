import { useState, type ReactNode } from 'react';
import { Panel } from '../shell/Panel';

export const TABS = ['Checks', 'Notes', 'Values', 'Again', 'Sequence'] as const;
export type Tab = (typeof TABS)[number];

/** What stands beside the player: one of several things at a time, and the decision below. */
export function ReviewPanel({
  tab,
  onTab,
  counts,
  content,
  decision,
}: {
  tab: Tab;
  onTab: (t: Tab) => void;
  /** How much there is to look at in a tab. */
  counts: Partial<Record<Tab, number>>;
  content: Partial<Record<Tab, ReactNode>>;
  decision: ReactNode;
}) {
  const there = TABS.filter((t) => content[t] !== undefined);
  const shown = there.includes(tab) ? tab : there[0]!;
  return (
    <Panel label="Review" actions={decision}>
      <div role="tablist" aria-label="Beside the picture" className="-mt-1 mb-3 flex gap-2">
        {there.map((t) => (
          <button
            key={t}
            role="tab"
            aria-selected={t === shown}
            className={`min-h-7 ${t === shown ? 'font-semibold underline decoration-mark decoration-2 underline-offset-4' : 'text-t2 hover:text-t1'}`}
            onClick={() => onTab(t)}
          >
            {t}
            {!!counts[t] && <span className="fig ml-1 text-xs text-t2">{counts[t]}</span>}
          </button>
        ))}
      </div>
      <div role="tabpanel" aria-label={shown}>
        {content[shown]}
      </div>
    </Panel>
  );
}

/** Which tab is open: it stays while one goes from strand to strand. */
let last: Tab = 'Checks';
export function useTab(): [Tab, (t: Tab) => void] {
  const [tab, setTab] = useState<Tab>(last);
  return [
    tab,
    (t) => {
      last = t;
      setTab(t);
    },
  ];
}
