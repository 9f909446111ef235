import type { Events, Run } from '../api/client';

/** The strands that were started with one, in the order in which they were. */
export const batchOf = (runs: Run[], run: Run) =>
  runs.filter((r) => r.batch === run.batch).sort((a, b) => a.id - b.id);

/** What is still to be rendered of a strand. */
export const leftOf = (r: Run) => r.total - r.fresh - r.failed - r.skipped;

/**
 * Seconds until all strands of a run are rendered: what is known of the frame in work, and for the
 * others the mean of their own frames or else of those of the run. Undefined before the first frame.
 */
export function secondsLeft(all: Run[], now: Events['progress'] | null): number | undefined {
  const means = all.flatMap((r) => r.secondsPerFrame ?? []);
  const mean = means.length ? means.reduce((a, b) => a + b, 0) / means.length : undefined;
  let sum = 0;
  for (const r of all.filter((x) => x.state === 'RUNNING')) {
    const each = r.secondsPerFrame ?? mean;
    if (now?.runId === r.id && now.frame !== null) {
      sum += now.secondsLeft;
    } else if (each === undefined) {
      return undefined;
    } else {
      sum += leftOf(r) * each;
    }
  }
  return sum;
}

/** How strands that were started together stand: what needs a lead first counts. */
export const batchState = (all: Run[]): Run['state'] | undefined =>
  (['RUNNING', 'FAILED', 'CANCELLED', 'DONE'] as const).find((state) =>
    all.some((r) => r.state === state),
  );
