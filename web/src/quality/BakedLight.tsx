import { useEffect, useRef, useState } from 'react';
import { bakedTrial, listen, type BakedTrial, type BakedTrialEvents } from '../api/client';
import { useBake, useBakedLight, useMoversApart } from '../api/quality';
import { useSecondsBySamples } from '../api/queries';
import { useChangeView, type StrandView } from '../api/strands';
import { Compare } from '../picture/Compare';
import { StrandPicture } from '../picture/StrandPicture';
import { Button } from '../shell/Button';
import { count, duration, everyText, percent } from '../shell/format';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { useUndo } from '../shell/undo';
import { useSay } from '../shell/useSay';

const VIEWER = `baked-${Math.random().toString(36).slice(2)}`;

/** Whether the strand's light can be baked, what that saves, and what to do if it cannot. */
export function BakedLight({ strand }: { strand: StrandView }) {
  const { shot, layer, settings } = strand;
  const frame = usePlayhead();
  const { data: use, error } = useBakedLight(
    shot.id,
    layer.id,
    JSON.stringify([shot.camera, shot.frames, shot.revisionId, settings]),
  );
  const apart = useMoversApart();
  const bake = useBake();
  const change = useChangeView(strand);
  const put = useSay();
  const tell = useTell();
  const undo = useUndo();
  const { share, tried, failed, start, stop } = useTrial();
  const { irradiance } = strand.recipe.document;
  if (error) {
    return <p className="py-4 text-bad">{error.message}</p>;
  }
  if (!use) {
    return <p className="py-4 text-t2">All frames are looked at …</p>;
  }
  const can = use.why.length === 0;
  const off = () =>
    void put(change.recipe({ irradiance: { ...irradiance, use: false } }), 'baked light');
  const on = () =>
    bake.mutate(
      { shot: shot.id, layer: layer.id, every: use.every },
      {
        onSuccess: (r) =>
          tell(
            `Recipe ${r.name} bakes ${frameText(use.every)}${r.id === strand.recipe.id ? '' : `; it is this strand’s own, since others use ${strand.recipe.name}`}.`,
            { action: { label: 'Undo', run: () => undo('undo') } },
          ),
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  const away = () =>
    apart.mutate(
      { shot: shot.id, layer: layer.id },
      {
        onSuccess: (made) =>
          tell(
            `${use.movers.join(', ')} left layer ${layer.name}; ${made
              .slice(1)
              .map((l) => l.name)
              .join(' and ')} are on beside it.`,
            { action: { label: 'Undo', run: () => undo('undo') } },
          ),
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto pb-4">
      <div className="max-w-[70ch] pt-2" data-testid="baked-use">
        {can ? (
          <p>
            <b>It can be used here:</b> nothing but the camera moves. Baking {frameText(use.every)}{' '}
            is enough.
          </p>
        ) : (
          <>
            <p>
              <b>Not here:</b>
            </p>
            <ul className="mb-2">
              {use.why.slice(0, 6).map((w) => (
                <li key={w}>{w}</li>
              ))}
              {use.why.length > 6 && <li className="text-t2">and {use.why.length - 6} more</li>}
            </ul>
          </>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-3">
        {!can && use.movers.length > 0 && (
          <Button main disabled={apart.isPending} onClick={away}>
            Put {use.movers.length === 1 ? use.movers[0] : `these ${use.movers.length}`} in a layer
            of {use.movers.length === 1 ? 'its' : 'their'} own
          </Button>
        )}
        {can &&
          (share === undefined ? (
            <Button main={!tried} onClick={() => start({ shot: shot.id, layer: layer.id, frame })}>
              {tried ? 'Try it again' : `Try it on frame ${frame}`}
            </Button>
          ) : (
            <>
              <span
                role="progressbar"
                aria-label="Baking"
                aria-valuenow={Math.round(100 * share)}
                className="h-2 w-60 border border-t3"
              >
                <i className="block h-full bg-mark" style={{ width: `${100 * share}%` }} />
              </span>
              <span className="fig text-t2">
                {share < 1 ? `baking, ${percent(share)}` : 'rendering with and without'}
              </span>
              <Button onClick={stop}>Stop</Button>
            </>
          ))}
        {can && (
          <Button
            main={!!tried && !irradiance.use}
            disabled={bake.isPending}
            onClick={irradiance.use ? off : on}
          >
            {irradiance.use ? 'Do without baked light' : `Bake ${frameText(use.every)}`}
          </Button>
        )}
        {can && irradiance.use && irradiance.every !== use.every && (
          <Button onClick={on}>Bake {frameText(use.every)}</Button>
        )}
        {irradiance.use && (
          <span className="text-t2">
            On in recipe {strand.recipe.name}: each run bakes before its first frame.
          </span>
        )}
      </div>
      {!can && use.movers.length > 0 && (
        <p className="max-w-[70ch] text-t2">
          Layer {layer.name} is left without {use.movers.length === 1 ? 'it' : 'them'}; {layer.name}
          -moving-shadow and {layer.name}-moving are put beside it in all shots that have it, in a
          region that follows.
        </p>
      )}
      {failed && <p className="text-bad">{failed}</p>}
      {!tried && (
        <div className="flex min-h-60 flex-1 pb-8">
          <StrandPicture strand={strand} frame={frame} still={share !== undefined} />
        </div>
      )}
      {tried && <Outcome strand={strand} tried={tried} />}
    </div>
  );
}

const frameText = (every: number) => (every === 1 ? everyText(1) : `${everyText(every)} frame`);

/** What a trial found: seconds with and without, and the points on the picture. */
function Outcome({ strand, tried }: { strand: StrandView; tried: BakedTrial }) {
  const { shot, layer } = strand;
  const [dots, setDots] = useState(true);
  const known = useSecondsBySamples()?.find((k) => k.shotId === shot.id && k.layerId === layer.id);
  const { most } = strand.recipe.document.sampling;
  const same = tried.secondsToSameNoise;
  const bake = tried.strandBakeSeconds;
  const without = known && known.fixed + known.perSample * most;
  const rendered = known && known.fixed + (known.perSample * most * same) / tried.secondsWithout;
  const saved = without !== undefined && rendered !== undefined && without - rendered - bake;
  return (
    <>
      <table className="max-w-160 text-left" data-testid="baked-outcome">
        <thead className="text-xs text-t3">
          <tr>
            <th className="pr-8 font-normal">this frame, small, {tried.samples} samples</th>
            <th className="pr-8 font-normal">time</th>
            <th className="pr-8 font-normal">noise</th>
            <th className="font-normal">time to the same noise</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>without</td>
            <td className="fig">{duration(tried.secondsWithout)}</td>
            <td className="fig">{percent(tried.noiseWithout)}</td>
            <td className="fig">{duration(tried.secondsWithout)}</td>
          </tr>
          <tr>
            <td>in baked light</td>
            <td className="fig">{duration(tried.secondsWith)}</td>
            <td className="fig">{percent(tried.noiseWith)}</td>
            <td className="fig">{duration(same)}</td>
          </tr>
        </tbody>
      </table>
      <p>
        {saved === false || saved === undefined ? (
          <span className="text-t2">
            What the strand saves is known once its frames are tried out.
          </span>
        ) : (
          <>
            <b>
              {saved >= 0
                ? `Saves about ${duration(saved)} of ${duration(without!)}`
                : `Costs about ${duration(-saved)} more than ${duration(without!)}`}
            </b>{' '}
            over the strand, at the noise that it has now; baking {frameText(tried.every)} takes
            about {duration(bake)} of it.
          </>
        )}{' '}
        <span className="text-t2">
          <span className="fig">{count(tried.points)}</span> points, baked small from this frame in{' '}
          {duration(tried.bakeSeconds)}.
        </span>{' '}
        <button
          aria-pressed={dots}
          className="min-h-6 underline underline-offset-3"
          onClick={() => setDots(!dots)}
        >
          {dots ? 'without the points' : 'show the points'}
        </button>
      </p>
      <div className="relative flex min-h-60 flex-1">
        {dots ? (
          <Points tried={tried} />
        ) : (
          <Compare
            a={{ src: `data:image/png;base64,${tried.without}`, label: 'without' }}
            b={{ src: `data:image/png;base64,${tried.with}`, label: 'in baked light' }}
            aspect={tried.width / tried.height}
          />
        )}
      </div>
    </>
  );
}

function Points({ tried }: { tried: BakedTrial }) {
  const aspect = `${tried.width} / ${tried.height}`;
  return (
    <figure
      className="relative mx-auto h-full max-w-full"
      style={{ aspectRatio: aspect, containerType: 'size' }}
    >
      <img
        src={`data:image/png;base64,${tried.with}`}
        alt="The frame in baked light"
        className="h-full w-full opacity-60"
      />
      <img
        src={`data:image/png;base64,${tried.dots}`}
        alt="Points that light was baked at"
        className="absolute inset-0 h-full w-full"
        style={{ imageRendering: 'pixelated' }}
      />
    </figure>
  );
}

/** Bakes light small and renders a frame with and without. */
function useTrial() {
  const [share, setShare] = useState<number>();
  const [tried, setTried] = useState<BakedTrial>();
  const [failed, setFailed] = useState<string>();
  const leave = useRef<() => void>(undefined);
  const stop = () => {
    leave.current?.();
    setShare(undefined);
  };
  useEffect(() => () => leave.current?.(), []);
  const start = ({ shot, layer, frame }: { shot: number; layer: number; frame: number }) => {
    stop();
    setFailed(undefined);
    setShare(0);
    leave.current = listen<BakedTrialEvents>(bakedTrial(shot, VIEWER, frame, layer), {
      baking: (b) => setShare(b.share),
      tried: setTried,
      failed: setFailed,
      ended: () => setShare(undefined),
    });
  };
  return { share, tried, failed, start, stop };
}
