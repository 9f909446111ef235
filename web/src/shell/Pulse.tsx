import type { ReactNode } from 'react';
import { useSession, useSignOut } from '../api/session';
import { useProgress, useRunStrands } from '../api/queries';
import { batchOf, batchState, secondsLeft } from './batch';
import { clockIn, stillText } from './format';
import { useTheme } from './theme';

/** The run in work, or the last one, in two lines; with the theme and the help. */
export function Pulse({
  connected,
  onHelp,
  onFind,
}: {
  connected: boolean;
  onHelp: () => void;
  onFind: () => void;
}) {
  const runs = useRunStrands().data ?? [];
  const progress = useProgress();
  const [theme, setTheme] = useTheme();
  const session = useSession().data;
  const signOut = useSignOut();
  const run = runs.find((r) => r.state === 'RUNNING') ?? runs[0];
  const all = run ? batchOf(runs, run) : [];
  const sum = (part: 'fresh' | 'total') => all.reduce((n, r) => n + r[part], 0);
  const state = batchState(all);
  const left = secondsLeft(all, progress);
  return (
    <div className="flex items-center gap-4">
      <div className="fig w-52 text-right leading-4" data-testid="pulse">
        {!connected ? (
          <div className="text-bad">server not reached</div>
        ) : !run ? (
          <div className="text-t2">no run yet</div>
        ) : (
          <>
            <div className="truncate">
              run {run.run} · {sum('fresh')} of {sum('total')}
            </div>
            <div className="text-t2">
              {state !== 'RUNNING'
                ? state?.toLowerCase()
                : left === undefined
                  ? stillText(run)
                  : `ready ${clockIn(left)}`}
            </div>
          </>
        )}
      </div>
      {session?.right === 'LOOK' && (
        <span className="text-t2" title="This password lets you look; changes are refused.">
          view only
        </span>
      )}
      <div className="flex text-t2">
        {session?.needed && (
          <Small label="Sign out" onClick={() => signOut.mutate()}>
            <path
              d="M8.5 2H3v10h5.5M6 7h6.5M10 4.5L12.5 7 10 9.5"
              fill="none"
              stroke="currentColor"
              strokeWidth="1.5"
            />
          </Small>
        )}
        <Small label="Find (Ctrl K)" onClick={onFind}>
          <circle cx="6" cy="6" r="4.2" fill="none" stroke="currentColor" strokeWidth="1.5" />
          <path d="M9.2 9.2l3.6 3.6" stroke="currentColor" strokeWidth="1.5" />
        </Small>
        <Small
          label={theme === 'dim' ? 'Change to the Paper theme' : 'Change to the Dim theme'}
          onClick={() => setTheme(theme === 'dim' ? 'paper' : 'dim')}
        >
          <circle cx="7" cy="7" r="5.5" fill="none" stroke="currentColor" strokeWidth="1.5" />
          <path d="M7 1.5a5.5 5.5 0 0 1 0 11z" fill="currentColor" />
        </Small>
        <Small label="Keyboard shortcuts (?)" onClick={onHelp}>
          <path
            d="M4.5 5a2.5 2.5 0 1 1 3.6 2.2c-.8.4-1.1.9-1.1 1.8M7 11v1.6"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.5"
          />
        </Small>
      </div>
    </div>
  );
}

function Small({
  label,
  onClick,
  children,
}: {
  label: string;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      className="grid h-7 w-7 place-items-center rounded-sm hover:bg-up2 hover:text-t1"
      aria-label={label}
      title={label}
      onClick={onClick}
    >
      <svg width="14" height="14" aria-hidden="true">
        {children}
      </svg>
    </button>
  );
}
