import { useReach } from '../api/quality';
import type { StrandView } from '../api/strands';
import { duration, framesText, percent } from '../shell/format';
import { playhead } from '../shell/playhead';

/** What the frames of the strand come to with its recipe, and what finished ones came to. */
export function Reached({ strand }: { strand: StrandView }) {
  const { shot, layer, settings } = strand;
  const reach = useReach(
    shot.id,
    layer.id,
    undefined,
    JSON.stringify([shot.frames, shot.width, shot.height, shot.scale, settings]),
  );
  if (!reach) {
    return null;
  }
  const limit = settings.recipe.sampling.seconds;
  return (
    <div className="mt-3 text-t2" data-testid="reach">
      {reach.known ? (
        <p>
          {limit > 0
            ? `${duration(limit)} × ${framesText(reach.frames)} = ${duration(reach.seconds)}, about ${Math.round(reach.samples)} samples, noise about ${percent(reach.noise)}`
            : `${framesText(reach.frames)} in ${duration(reach.seconds)}, noise about ${percent(reach.noise)}`}
          {'; '}
          <button
            className="text-t1 underline underline-offset-3"
            onClick={() => playhead.to(reach.noisiest)}
          >
            noisiest at frame {reach.noisiest}
          </button>
          {`, ${percent(reach.most)}`}
        </p>
      ) : (
        <p>Frames are tried out while nothing is rendered; then time and noise are known.</p>
      )}
      {reach.noises.length > 1 && (
        <Curve frames={reach.finished} noises={reach.noises} range={shot.frames} />
      )}
    </div>
  );
}

const WIDTH = 260;
const HEIGHT = 40;

/** The noise of each finished frame; a press goes to the frame. */
function Curve({ frames, noises, range }: { frames: number[]; noises: number[]; range: string }) {
  const most = Math.max(...noises);
  const least = Math.min(...noises);
  const from = frames[0]!;
  const span = Math.max(1, frames.at(-1)! - from);
  const x = (f: number) => (WIDTH * (f - from)) / span;
  const y = (n: number) => HEIGHT - (HEIGHT * n) / most;
  return (
    <figure className="mt-2">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="h-10 w-full cursor-pointer"
        role="img"
        aria-label={`Noise of ${noises.length} finished frames of ${range}: ${percent(least)} to ${percent(most)}`}
        onClick={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          const f = from + (span * (e.clientX - box.left)) / box.width;
          const near = frames.reduce((a, b) => (Math.abs(b - f) < Math.abs(a - f) ? b : a));
          playhead.to(near);
        }}
      >
        <polyline
          points={frames.map((f, i) => `${x(f)},${y(noises[i]!)}`).join(' ')}
          fill="none"
          stroke="currentColor"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <figcaption className="text-xs">
        reached in {framesText(noises.length)}: {percent(least)} to {percent(most)}
      </figcaption>
    </figure>
  );
}
