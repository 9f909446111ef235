import type { Events, RunStrand } from '../api/client';

/** The strands that were started with one, in the order in which they were. */
export const batchOf = (runs: RunStrand[], run: RunStrand) =>
  runs.filter((r) => r.run === run.run).sort((a, b) => a.id - b.id);

/** Whether a strand of a run may still have something to do. */
export const isOpen = (r: RunStrand) => r.state === 'RUNNING' || r.state === 'PAUSED';

/** What is still to be rendered of a strand. */
export const leftOf = (r: RunStrand) => r.total - r.fresh - r.failed - r.skipped;

/**
 * Seconds until all strands of a run are rendered: what is known of the frame in work, and for the
 * others the mean of their own frames or else of those of the run. Undefined before the first frame.
 */
export function secondsLeft(all: RunStrand[], now: Events['progress'] | null): number | undefined {
  const means = all.flatMap((r) => r.secondsPerFrame ?? []);
  const mean = means.length ? means.reduce((a, b) => a + b, 0) / means.length : undefined;
  let sum = 0;
  for (const r of all.filter((x) => x.state === 'RUNNING')) {
    const each = r.secondsPerFrame ?? mean;
    if (now?.strandId === r.id && now.frame !== null) {
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
export const batchState = (all: RunStrand[]): RunStrand['state'] | undefined =>
  (['RUNNING', 'PAUSED', 'FAILED', 'CANCELLED', 'DONE'] as const).find((state) =>
    all.some((r) => r.state === state),
  );
