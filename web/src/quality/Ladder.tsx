import { useState, type PointerEvent } from 'react';
import type { Part, Rung } from '../api/client';
import { useSecondsBySamples, useShots } from '../api/queries';
import { strandView, useChangeView, useStrandParts, type StrandView } from '../api/strands';
import { StrandPicture } from '../picture/StrandPicture';
import { Button } from '../shell/Button';
import { roughly } from '../shell/estimate';
import { duration, percent } from '../shell/format';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { useUndo } from '../shell/undo';
import { useLadder } from './useLadder';

/** In the middle, a third of the picture across and down. */
const MIDDLE: Part = { x: 1 / 3, y: 1 / 3, width: 1 / 3, height: 1 / 3 };

/** Sides below which a rectangle is a slip of the hand. */
const SMALL = 0.02;

/** The same part of a frame at rising samples, with what each costs; one is taken over. */
export function Ladder({ strand }: { strand: StrandView }) {
  const { shot, layer } = strand;
  const frame = usePlayhead();
  const [part, setPart] = useState(MIDDLE);
  const [shown, setShown] = useState<'plain' | 'clean'>(
    strand.recipe.document.denoising.picture ? 'clean' : 'plain',
  );
  const [chosen, setChosen] = useState<number>();
  const { rungs, running, failed, climb, stop } = useLadder();
  const hours = useHours(strand);
  const change = useChangeView(strand);
  const tell = useTell();
  const undo = useUndo();
  const go = (p: Part) => climb({ shot: shot.id, layer: layer.id, frame, part: p });
  const take = (samples: number) => {
    const { sampling, denoising } = strand.recipe.document;
    void change
      .recipe({
        sampling: { ...sampling, most: samples, least: Math.min(sampling.least, samples) },
        denoising: { ...denoising, picture: shown === 'clean' },
      })
      .then(
        () =>
          tell(
            `Recipe ${strand.recipe.name} has ${samples} samples${shown === 'clean' ? ', denoised' : ''}.`,
            { action: { label: 'Undo', run: () => undo('undo') } },
          ),
        (e: Error) => tell(e.message, { bad: true }),
      );
  };
  const now = strand.recipe.document.sampling.most;
  return (
    <section aria-label="Ladder" className="flex min-h-0 min-w-0 flex-col bg-well px-5">
      <div className="flex h-12 shrink-0 items-center gap-5">
        <h2 className="font-[640]">Ladder</h2>
        <span className="text-t2">
          frame <span className="fig">{frame}</span> · {shot.name}, layer {layer.name}
        </span>
        <span className="ml-auto flex gap-4">
          {(['plain', 'clean'] as const).map((s) => (
            <button
              key={s}
              aria-pressed={shown === s}
              className={`min-h-6 ${shown === s ? 'font-semibold' : 'text-t2 hover:text-t1'}`}
              onClick={() => setShown(s)}
            >
              {s === 'plain' ? 'Plain' : 'Denoised'}
            </button>
          ))}
        </span>
        {running ? (
          <Button onClick={stop}>Stop</Button>
        ) : (
          <Button onClick={() => go(part)}>
            {rungs.length > 0 ? 'Again' : 'Climb the ladder'}
          </Button>
        )}
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-3 content-start gap-x-4 gap-y-3 overflow-auto pb-4">
        <div>
          <div className="flex aspect-video">
            <StrandPicture
              strand={strand}
              frame={frame}
              still={running}
              over={
                <Rectangle
                  part={part}
                  onDraw={(p) => {
                    setPart(p);
                    go(p);
                  }}
                />
              }
            />
          </div>
          <p className="mt-7 text-xs text-t2">
            {running
              ? 'The picture rests while the ladder is climbed.'
              : 'Draw a rectangle where noise matters.'}
          </p>
        </div>
        {rungs.map((r) => (
          <RungView
            key={r.samples}
            rung={r}
            shown={shown}
            current={r.samples === now}
            chosen={r.samples === chosen}
            hours={hours(r.samples)}
            onChoose={() => setChosen(r.samples)}
            onTake={() => take(r.samples)}
          />
        ))}
        {running && (
          <p className="grid aspect-video place-items-center self-start border border-dashed border-line text-t2">
            {rungs.length === 0 ? 'the first rung …' : `${2 * rungs.at(-1)!.samples} samples …`}
          </p>
        )}
        {failed && <p className="text-bad">{failed}</p>}
        {!running && rungs.length === 0 && !failed && (
          <p className="col-span-2 self-center text-t2">
            The ladder renders this part with 4, 8, 16 … 512 samples, plain and denoised, and says
            for each how noisy it is and what it costs. Pick one, and the recipe has it.
          </p>
        )}
      </div>
    </section>
  );
}

/** Seconds of the strand, and of all strands that use its recipe, by samples. */
type Hours = { strand: number | undefined; all: number | undefined; strands: number };

function useHours(strand: StrandView): (samples: number) => Hours {
  const known = useSecondsBySamples();
  const parts = useStrandParts();
  const shots = useShots().data;
  const using =
    parts && shots
      ? shots.flatMap((s) =>
          parts.layers.flatMap((l) => {
            const v = strandView(s, l, parts);
            return v && v.strand.on && v.recipe.id === strand.recipe.id ? [v] : [];
          }),
        )
      : [];
  const of = (v: StrandView) =>
    known?.find((k) => k.shotId === v.shot.id && k.layerId === v.layer.id);
  return (samples) => {
    const seconds = (v: StrandView) => {
      const k = of(v);
      return k && k.fixed + k.perSample * samples;
    };
    const all = using.map(seconds);
    return {
      strand: seconds(strand),
      all: all.every((s) => s !== undefined) ? all.reduce((a, b) => a + b, 0) : undefined,
      strands: using.length,
    };
  };
}

function RungView({
  rung,
  shown,
  current,
  chosen,
  hours,
  onChoose,
  onTake,
}: {
  rung: Rung;
  shown: 'plain' | 'clean';
  current: boolean;
  chosen: boolean;
  hours: Hours;
  onChoose: () => void;
  onTake: () => void;
}) {
  return (
    <div data-testid={`rung-${rung.samples}`}>
      <button
        aria-pressed={chosen}
        aria-label={`${rung.samples} samples`}
        className={`block w-full outline ${chosen ? 'outline-2 outline-mark' : 'outline-0'}`}
        onClick={onChoose}
      >
        <img
          src={`data:image/jpeg;base64,${rung[shown]}`}
          alt={`${rung.samples} samples${shown === 'clean' ? ', denoised' : ''}`}
          className="w-full bg-bg"
          style={{ aspectRatio: `${rung.width} / ${rung.height}`, imageRendering: 'pixelated' }}
        />
      </button>
      <p className="fig mt-1 flex justify-between gap-2">
        <b className={current ? 'text-mark' : ''}>
          {rung.samples}
          {current && ' now'}
        </b>
        <span className="text-t2">noise {percent(rung.noise)}</span>
        <span className="text-t2">{duration(rung.seconds)}</span>
        <span className="text-t2">frame {duration(rung.frameSeconds)}</span>
      </p>
      <p className="fig flex justify-between gap-2 text-t2">
        <span>
          {hours.strand === undefined ? 'strand not known yet' : `strand ${roughly(hours.strand)}`}
          {hours.strands > 1 &&
            hours.all !== undefined &&
            ` · ${hours.strands} strands ${roughly(hours.all)}`}
        </span>
        {chosen && !current && (
          <button className="text-t1 underline underline-offset-3" onClick={onTake}>
            take {rung.samples} samples
          </button>
        )}
      </p>
    </div>
  );
}

/** A rectangle that is drawn on the picture. */
function Rectangle({ part, onDraw }: { part: Part; onDraw: (p: Part) => void }) {
  const [from, setFrom] = useState<{ x: number; y: number }>();
  const [to, setTo] = useState<{ x: number; y: number }>();
  const at = (e: PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = (v: number) => Math.min(1, Math.max(0, v));
    return {
      x: share((e.clientX - box.left) / box.width),
      y: share((e.clientY - box.top) / box.height),
    };
  };
  const drawn =
    from && to
      ? {
          x: Math.min(from.x, to.x),
          y: Math.min(from.y, to.y),
          width: Math.abs(from.x - to.x),
          height: Math.abs(from.y - to.y),
        }
      : part;
  const end = () => {
    if (drawn.width > SMALL && drawn.height > SMALL && from) {
      onDraw(drawn);
    }
    setFrom(undefined);
    setTo(undefined);
  };
  const percentOf = (v: number) => `${100 * v}%`;
  return (
    <div
      aria-label="Part of the picture; draw another rectangle"
      role="img"
      data-testid="part"
      className="h-full w-full cursor-crosshair touch-none"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom(at(e));
        setTo(at(e));
      }}
      onPointerMove={(e) => from && setTo(at(e))}
      onPointerUp={end}
    >
      <i
        className="pointer-events-none absolute border border-mark"
        style={{
          left: percentOf(drawn.x),
          top: percentOf(drawn.y),
          width: percentOf(drawn.width),
          height: percentOf(drawn.height),
        }}
      />
    </div>
  );
}
