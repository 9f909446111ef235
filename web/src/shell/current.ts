import { useMemo } from 'react';
import type { Run, Shot } from '../api/client';
import { useRevisions, useRuns, useShots } from '../api/queries';
import { useSession } from './Session';

/** The shot chosen last, else the first. */
export function useCurrentShot(): Shot | undefined {
  const { shotId } = useSession();
  const shots = useShots().data;
  return shots?.find((s) => s.id === shotId) ?? shots?.[0];
}

/** The run chosen last if it still belongs to the current shot, else the shot's newest, else any. */
export function useCurrentRun(): Run | undefined {
  const { runId } = useSession();
  const shot = useCurrentShot();
  const runs = useRuns().data;
  return useMemo(() => {
    const chosen = runs?.find((r) => r.id === runId);
    if (chosen && (!shot || chosen.shotId === shot.id || chosen.shotId === null)) {
      return chosen;
    }
    return runs?.find((r) => r.shotId === shot?.id) ?? (shot ? undefined : runs?.[0]);
  }, [runs, runId, shot]);
}

/** Makes a run and its shot the current ones. */
export function useChooseRun(): (run: Run) => void {
  const { setRunId, setShotId } = useSession();
  return (run) => {
    setRunId(run.id);
    setShotId(run.shotId ?? undefined);
  };
}

/** The revision the current shot looks at, else the newest. */
export function useCurrentRevision() {
  const shot = useCurrentShot();
  const revisions = useRevisions().data;
  return revisions?.find((r) => r.id === shot?.revisionId) ?? revisions?.[0];
}
