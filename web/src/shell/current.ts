import { useMemo } from 'react';
import type { Revision, RunStrand, Shot } from '../api/client';
import { useRevisions, useRunStrands, useShots } from '../api/queries';
import { useGo, usePlace } from './address';

/** The shot that the address names, else the first. */
export function useCurrentShot(): Shot | undefined {
  const name = usePlace()?.shot;
  const shots = useShots().data;
  return shots?.find((s) => s.name === name) ?? shots?.[0];
}

/** The run that the address names, else the newest of the current shot. */
export function useCurrentRun(): RunStrand | undefined {
  const place = usePlace();
  const shot = useCurrentShot();
  const runs = useRunStrands().data;
  return useMemo(() => {
    const own = runs?.filter(
      (r) =>
        (r.shotId === shot?.id || r.shot === place?.shot) &&
        (!place?.layer || r.layer === place.layer),
    );
    const named =
      own?.find((r) => r.run === place?.run) ?? own?.find((r) => r.number === place?.version);
    return named || own?.[0] || (shot ? undefined : runs?.[0]);
  }, [runs, shot, place]);
}

/** Goes to a run: its shot and version become the current ones. */
export function useChooseRun() {
  const go = useGo();
  const shots = useShots().data;
  return (run: RunStrand, to: Parameters<typeof go>[0] = {}) => {
    const shot = shots?.find((s) => s.id === run.shotId);
    go({
      shot: shot?.name ?? run.shot,
      layer: run.layer,
      version: run.number,
      run: run.run,
      ...to,
    });
  };
}

/** How an address names a revision. */
export const revisionName = (r: Revision) => `${r.scene}.r${r.number}`;

/** The revision that the address names, else that of the current shot, else the newest. */
export function useCurrentRevision() {
  const named = usePlace()?.revision;
  const shot = useCurrentShot();
  const revisions = useRevisions().data;
  return (
    revisions?.find((r) => revisionName(r) === named) ??
    revisions?.find((r) => r.id === shot?.revisionId) ??
    revisions?.[0]
  );
}
