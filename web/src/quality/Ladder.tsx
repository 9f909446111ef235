import { useState } from 'react';
import type { Part, Rung } from '../api/client';
import { useSecondsBySamples } from '../api/queries';
import { useChangeView, type StrandView } from '../api/strands';
import { Rectangle } from '../picture/Rectangle';
import { StrandPicture } from '../picture/StrandPicture';
import { Button } from '../shell/Button';
import { roughly } from '../shell/estimate';
import { duration, percent } from '../shell/format';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { useUndo } from '../shell/undo';
import { useLadder } from './useLadder';
import { useUse } from './useUse';

/** A pixel that is to be clean enough may need this many times the samples of most. */
const ROOM = 4;

/** The same part of a frame at rising samples, with what each costs; one is taken over. */
export function Ladder({
  strand,
  part,
  onPart,
}: {
  strand: StrandView;
  part: Part;
  onPart: (p: Part) => void;
}) {
  const { shot, layer } = strand;
  const frame = usePlayhead();
  const [shown, setShown] = useState<'plain' | 'clean'>(
    strand.recipe.document.denoising.picture ? 'clean' : 'plain',
  );
  const [chosen, setChosen] = useState<number>();
  const { rungs, running, failed, climb, stop } = useLadder();
  const hours = useHours(strand);
  const change = useChangeView(strand);
  const tell = useTell();
  const undo = useUndo();
  const { sampling, denoising } = strand.recipe.document;
  const where = (p: Part) => ({ shot: shot.id, layer: layer.id, frame, part: p });
  const denoise = { ...denoising, picture: shown === 'clean' };
  const say = (part: Parameters<typeof change.recipe>[0], said: string, then?: () => void) =>
    void change.recipe(part).then(
      () => {
        tell(`Recipe ${strand.recipe.name} ${said}${shown === 'clean' ? ', denoised' : ''}.`, {
          action: { label: 'Undo', run: () => undo('undo') },
        });
        then?.();
      },
      (e: Error) => tell(e.message, { bad: true }),
    );
  const take = (samples: number) =>
    say(
      {
        sampling: { ...sampling, most: samples, least: Math.min(sampling.least, samples) },
        denoising: denoise,
      },
      `has ${samples} samples`,
    );
  const enough = (r: Rung) =>
    say(
      {
        sampling: {
          ...sampling,
          adaptive: true,
          noiseThreshold: Number(r.noise.toPrecision(2)),
          most: Math.max(sampling.most, ROOM * r.samples),
        },
        denoising: denoise,
      },
      `is clean at a noise of ${percent(r.noise)}`,
      () => climb(where(part), 'adaptive'),
    );
  return (
    <>
      <div className="flex h-12 shrink-0 items-center gap-4">
        <span className="flex gap-4">
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
        <span className="ml-auto">
          {running ? (
            <Button onClick={stop}>Stop</Button>
          ) : (
            <Button onClick={() => climb(where(part))}>
              {rungs.length > 0 ? 'Again' : 'Climb the ladder'}
            </Button>
          )}
        </span>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-3 content-start gap-x-4 gap-y-3 overflow-auto pb-4">
        <div>
          <div className="flex aspect-video">
            <StrandPicture
              strand={strand}
              frame={frame}
              still={!!running}
              over={
                <Rectangle
                  part={part}
                  label="Part of the picture; draw another rectangle"
                  onDraw={(p) => {
                    onPart(p);
                    climb(where(p));
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
            key={r.adaptive ? 0 : r.samples}
            rung={r}
            shown={shown}
            current={
              r.adaptive ? sampling.adaptive : !sampling.adaptive && r.samples === sampling.most
            }
            chosen={!r.adaptive && r.samples === chosen}
            hours={hours(r.samples)}
            onChoose={() => !r.adaptive && setChosen(r.samples)}
            onTake={() => take(r.samples)}
            onEnough={() => enough(r)}
          />
        ))}
        {running && (
          <p className="grid aspect-video place-items-center self-start border border-dashed border-line text-t2">
            {running === 'adaptive' || rungs.at(-1)?.samples === 512
              ? `until the noise is ${percent(sampling.noiseThreshold)} …`
              : rungs.length === 0
                ? 'the first rung …'
                : `${2 * rungs.at(-1)!.samples} samples …`}
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
    </>
  );
}

/** Seconds of the strand, and of all strands that use its recipe, by samples. */
type Hours = { strand: number | undefined; all: number | undefined; strands: number };

function useHours(strand: StrandView): (samples: number) => Hours {
  const known = useSecondsBySamples();
  const using = useUse()(strand.recipe.id).strands;
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
  onEnough,
}: {
  rung: Rung;
  shown: 'plain' | 'clean';
  current: boolean;
  chosen: boolean;
  hours: Hours;
  onChoose: () => void;
  onTake: () => void;
  onEnough: () => void;
}) {
  const name = rung.adaptive ? `adaptive, ${rung.samples} samples` : `${rung.samples} samples`;
  const press = 'text-t1 underline underline-offset-3';
  return (
    <div data-testid={rung.adaptive ? 'rung-adaptive' : `rung-${rung.samples}`}>
      <button
        aria-pressed={chosen}
        aria-label={name}
        className={`block w-full outline ${chosen ? 'outline-2 outline-mark' : 'outline-0'}`}
        onClick={onChoose}
      >
        <img
          src={`data:image/jpeg;base64,${rung[shown]}`}
          alt={`${name}${shown === 'clean' ? ', denoised' : ''}`}
          className="w-full bg-bg"
          style={{ aspectRatio: `${rung.width} / ${rung.height}`, imageRendering: 'pixelated' }}
        />
      </button>
      <p className="fig mt-1 flex justify-between gap-2">
        <b className={current ? 'text-mark' : ''}>
          {rung.adaptive ? `adaptive ~${rung.samples}` : rung.samples}
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
      </p>
      {chosen && (
        <p className="fig flex min-h-6 justify-between gap-2">
          {!current && (
            <button className={press} onClick={onTake}>
              take {rung.samples} samples
            </button>
          )}
          <button
            className={press}
            title="Adaptive sampling: pixels that are this clean get no more samples"
            onClick={onEnough}
          >
            clean enough at {percent(rung.noise)}
          </button>
        </p>
      )}
    </div>
  );
}
