import { useProgress, useRuns } from '../api/queries';
import { readyText, stillText, version } from './format';
import { useSession } from './Session';

/** The run in work, or the last one, in two lines; with the theme and the help. */
export function Pulse({ connected, onHelp }: { connected: boolean; onHelp: () => void }) {
  const runs = useRuns().data ?? [];
  const progress = useProgress();
  const { theme, setTheme } = useSession();
  const run = runs.find((r) => r.state === 'RUNNING') ?? runs[0];
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
              {run.shot} {version(run.number)} · {run.fresh} of {run.total}
            </div>
            <div className="text-t2">
              {run.state === 'RUNNING'
                ? progress?.runId === run.id
                  ? readyText(progress)
                  : stillText(run)
                : run.state.toLowerCase()}
            </div>
          </>
        )}
      </div>
      <div className="flex flex-col text-t2">
        <button
          className="px-1 hover:text-t1"
          aria-label={theme === 'dim' ? 'Change to the Paper theme' : 'Change to the Dim theme'}
          title={theme === 'dim' ? 'Paper' : 'Dim'}
          onClick={() => setTheme(theme === 'dim' ? 'paper' : 'dim')}
        >
          <svg width="14" height="14" aria-hidden="true">
            <circle cx="7" cy="7" r="5.5" fill="none" stroke="currentColor" strokeWidth="1.5" />
            <path d="M7 1.5a5.5 5.5 0 0 1 0 11z" fill="currentColor" />
          </svg>
        </button>
        <button
          className="px-1 hover:text-t1"
          aria-label="Keyboard shortcuts"
          title="Keyboard shortcuts (?)"
          onClick={onHelp}
        >
          ?
        </button>
      </div>
    </div>
  );
}
