import type { Run, Settings, Shot } from '../api/client';
import { useRuns } from '../api/queries';
import { duration, framesText, version } from '../shell/format';

/** Work of a run's frame: pixels times samples, to which the render time is nearly proportional. */
const work = (s: Run['settings']) => s.width * s.height * samples(s.settings);

const samples = ({ recipe }: Settings) => recipe.sampling.most;

const bakes = ({ recipe }: Settings) => recipe.irradiance.use;

/** The runs that tell what a shot takes: of the same camera, with baked light or without as it is. */
function useKnown(shot: Shot): { frames?: Run; light?: Run } {
  const runs = (useRuns().data ?? []).filter(
    (r) => r.settings.camera === shot.camera && bakes(r.settings.settings) === bakes(shot.settings),
  );
  return {
    frames: runs.find((r) => r.secondsPerFrame),
    light: runs.find((r) => r.bakes.some((b) => b.seconds !== null)),
  };
}

/** What the shot will take, from the frames of the same camera that were rendered here before. */
export function Cost({ shot, count }: { shot: Shot; count: number }) {
  const { frames, light } = useKnown(shot);
  if (!frames?.secondsPerFrame) {
    return (
      <p className="mt-3.5 text-t3">
        What it takes is known once a frame of this camera has been rendered
        {bakes(shot.settings) && ' with baked light'}.
      </p>
    );
  }
  const w = Math.round((shot.width * shot.scale) / 100);
  const h = Math.round((shot.height * shot.scale) / 100);
  const each = (frames.secondsPerFrame * w * h * samples(shot.settings)) / work(frames.settings);
  const baking = light?.bakes.reduce((sum, b) => sum + (b.seconds ?? 0), 0) ?? 0;
  return (
    <div className="mt-4 rounded-sm border border-line px-3 py-2.5">
      <h2 className="font-[640]">Cost of this shot</h2>
      <div className="big" data-testid="cost">
        about {duration(each * count + baking)}
      </div>
      <p className="text-t2">
        {framesText(count)} at {duration(each)}, from {framesText(frames.fresh)} of {frames.shot}{' '}
        {version(frames.number)}
        {light && `; before them its light, ${duration(baking)} in ${version(light.number)}`}
      </p>
    </div>
  );
}
