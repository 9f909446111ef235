import { useState } from 'react';
import type { Effort, Part, Spot } from '../api/client';
import { useEffort } from '../api/quality';
import type { StrandView } from '../api/strands';
import { placeOf } from '../picture/Rectangle';
import { count, duration, percent } from '../shell/format';
import { usePlayhead } from '../shell/playhead';
import { useSettled } from '../shell/useSettled';

const KINDS: Record<Effort['kinds'][number]['kind'], [string, string]> = {
  CAMERA: ['camera', 'to what is seen first'],
  DIFFUSE: ['diffuse', 'on from matt surfaces'],
  SPECULAR: ['specular', 'on from mirrors'],
  TRANSMISSION: ['transmission', 'on through glass'],
  LIGHTS: ['lights', 'to see whether light comes'],
};

type Map = 'time' | 'noise';

/** Where the rays and the time of a frame go, and where it is noisy. */
export function WhereItGoes({
  strand,
  onLook,
}: {
  strand: StrandView;
  /** Looks at a part on the ladder. */
  onLook: (p: Part) => void;
}) {
  const { shot, layer, settings } = strand;
  const frame = useSettled(usePlayhead());
  const {
    data: effort,
    error,
    isFetching,
  } = useEffort(
    shot.id,
    layer.id,
    frame,
    JSON.stringify([shot.width, shot.height, shot.scale, shot.camera, shot.revisionId, settings]),
  );
  const [map, setMap] = useState<Map>('time');
  const [pointed, setPointed] = useState<Part>();
  if (error) {
    return <p className="py-4 text-bad">{error.message}</p>;
  }
  if (!effort) {
    return <p className="py-4 text-t2">A small picture is rendered and measured …</p>;
  }
  const rays = effort.kinds.reduce((sum, k) => sum + k.rays, 0);
  const most = Math.max(...effort.kinds.map((k) => k.rays));
  const spots = map === 'time' ? effort.slow : effort.noisy;
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_300px] gap-6 overflow-auto pb-4">
      <div className="min-w-0">
        <div className="flex h-12 items-center gap-4">
          {(['time', 'noise'] as const).map((m) => (
            <button
              key={m}
              aria-pressed={m === map}
              className={`min-h-6 ${m === map ? 'font-semibold' : 'text-t2 hover:text-t1'}`}
              onClick={() => setMap(m)}
            >
              {m === 'time' ? 'Time' : 'Noise'}
            </button>
          ))}
          <span className="ml-auto text-xs text-t3">
            {isFetching ? 'being measured …' : 'the brighter, the more'}
          </span>
        </div>
        <figure className="relative">
          <img
            src={`data:image/jpeg;base64,${map === 'time' ? effort.timeMap : effort.noiseMap}`}
            alt={`Where the ${map} of frame ${frame} is`}
            className="w-full"
          />
          {pointed && (
            <i
              className="pointer-events-none absolute border border-white"
              style={placeOf(pointed)}
            />
          )}
        </figure>
      </div>
      <div className="text-t2">
        <h3 className="mt-2 mb-1 font-[640] text-t1">Where the rays go</h3>
        <table className="w-full">
          <thead className="text-xs text-t3">
            <tr>
              <th className="text-left font-normal">kind</th>
              <th className="w-24 text-left font-normal">rays a pixel</th>
              <th className="text-right font-normal">
                <span className="sr-only">number</span>
              </th>
              <th className="text-right font-normal">of the time</th>
            </tr>
          </thead>
          <tbody className="fig">
            {effort.kinds.map((k) => (
              <tr key={k.kind} title={KINDS[k.kind][1]}>
                <td className="py-0.5">{KINDS[k.kind][0]}</td>
                <td>
                  <i
                    className="block h-2 bg-t1"
                    style={{ width: `${Math.max(1, (100 * k.rays) / most)}%` }}
                  />
                </td>
                <td className="text-right text-t1">{count(Math.round(k.rays))}</td>
                <td className="text-right">{percent(k.share)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="mt-2">
          <span className="fig">{count(Math.round(rays))}</span> rays a pixel,{' '}
          <span className="fig">{duration(effort.seconds)}</span> a frame with {effort.samples}{' '}
          samples
        </p>
        <p className="mt-1 text-xs text-t3">{effort.sentence}.</p>
        <h3 className="mt-5 mb-1 font-[640] text-t1">
          {map === 'time' ? 'What takes the time' : 'What is noisy'}
        </h3>
        <ul>
          {spots.map((s) => (
            <li key={s.object ?? ''}>
              <button
                className="grid min-h-7 w-full grid-cols-[minmax(0,1fr)_4rem_6rem] items-baseline gap-2 border-b border-line text-left hover:text-t1"
                title="Look at it on the ladder"
                onPointerEnter={() => setPointed(s.part)}
                onPointerLeave={() => setPointed(undefined)}
                onFocus={() => setPointed(s.part)}
                onBlur={() => setPointed(undefined)}
                onClick={() => onLook(s.part)}
              >
                <span className="truncate">{spotName(s)}</span>
                <span className="fig text-right text-t1">{percent(s.share)}</span>
                <span className="text-right text-xs text-t3">on {percent(s.pixels)} of pixels</span>
              </button>
            </li>
          ))}
        </ul>
        {spots[0] && <p className="mt-2 text-t1">{sentence(spots[0], map)}</p>}
      </div>
    </div>
  );
}

const spotName = (s: Spot) =>
  s.object === null ? 'behind all objects' : s.glass ? `glass of ${s.object}` : s.object;

/** Says in words what the first of the list comes to. */
function sentence(s: Spot, map: Map): string {
  const what = map === 'time' ? 'the time goes to' : 'the noise lies on';
  const dear = s.pixels > 0 ? s.share / s.pixels : 1;
  const times = dear >= 1.5 ? `, ${dear.toFixed(1)} times its part of the picture` : '';
  return `${percent(s.share)} of ${what} ${spotName(s)}${times}.`;
}
