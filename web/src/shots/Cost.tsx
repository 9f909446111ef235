import type { Run, Shot } from '../api/client';
import { useRuns } from '../api/queries';
import { duration, framesText, version } from '../shell/format';

/** Work of a run's frame: pixels times samples, to which the render time is nearly proportional. */
const work = (s: Run['settings']) => s.width * s.height * s.samples;

/** What the shot will take, from the frames of the same camera that were rendered here before. */
export function Cost({ shot, count }: { shot: Shot; count: number }) {
  const runs = useRuns().data ?? [];
  const known = runs.find((r) => r.settings.camera === shot.camera && r.secondsPerFrame);
  if (!known?.secondsPerFrame) {
    return (
      <p className="mt-3.5 text-t3">
        What it takes is known once a frame of this camera has been rendered.
      </p>
    );
  }
  const w = Math.round((shot.width * shot.scale) / 100);
  const h = Math.round((shot.height * shot.scale) / 100);
  const each = (known.secondsPerFrame * w * h * shot.samples) / work(known.settings);
  return (
    <div className="mt-4 rounded-sm border border-line px-3 py-2.5">
      <h2 className="font-[640]">Cost of this shot</h2>
      <div className="big" data-testid="cost">
        about {duration(each * count)}
      </div>
      <p className="text-t2">
        {framesText(count)} at {duration(each)}, from {framesText(known.fresh)} of {known.shot}{' '}
        {version(known.number)}
      </p>
    </div>
  );
}
