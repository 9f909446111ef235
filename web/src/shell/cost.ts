import type { RunStrand, Settings } from '../api/client';
import type { StrandView } from '../api/strands';

/** Work of a run's frame: pixels times samples, to which the render time is nearly proportional. */
const work = (s: RunStrand['settings']) => s.width * s.height * samples(s.settings);

const samples = ({ recipe }: Settings) => recipe.sampling.most;

export const bakes = ({ recipe }: Settings) => recipe.irradiance.use;

/** What frames and light of a strand take, in seconds, and the runs that tell. */
export type Cost = { each: number; from: RunStrand; baking: number; light?: RunStrand };

/**
 * What a strand takes, from runs of the same camera, with baked light or without as it is; those of
 * its own layer come first. Undefined if there is none.
 */
export function costOf({ shot, layer, settings }: StrandView, runs: RunStrand[]): Cost | undefined {
  const like = runs.filter(
    (r) => r.settings.camera === shot.camera && bakes(r.settings.settings) === bakes(settings),
  );
  const known = [...like.filter((r) => r.layer === layer.name), ...like];
  const from = known.find((r) => r.secondsPerFrame);
  if (!from?.secondsPerFrame) {
    return undefined;
  }
  const light = known.find((r) => r.bakes.some((b) => b.seconds !== null));
  const w = Math.round((shot.width * shot.scale) / 100);
  const h = Math.round((shot.height * shot.scale) / 100);
  return {
    each: (from.secondsPerFrame * w * h * samples(settings)) / work(from.settings),
    from,
    baking: light?.bakes.reduce((sum, b) => sum + (b.seconds ?? 0), 0) ?? 0,
    light,
  };
}
