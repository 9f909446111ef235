import { useEffect, useRef, useState, type PointerEvent } from 'react';
import type { Input, Stack, StackPicture } from '../api/client';
import { stepsAt, useWords } from '../api/assembly';
import { Rectangle } from '../picture/Rectangle';
import { Choice } from '../shell/Choice';
import { rateText } from '../shell/format';
import { useKeys } from '../shell/keys';
import { playhead } from '../shell/playhead';
import { useSettled } from '../shell/useSettled';
import { ends } from './range';
import { useStackPicture } from './useStackPicture';

/** What a press into the picture is for. */
export type Picking =
  | { kind: 'object'; take: (x: number, y: number) => void }
  | { kind: 'rectangle'; take: (points: number[][]) => void }
  | { kind: 'polygon'; take: (points: number[][]) => void };

type Shown = 'result' | 'before' | 'alone' | 'upto';

const VIEWS: { value: StackPicture['view']; label: string }[] = [
  { value: 'STANDARD', label: 'standard view' },
  { value: 'SOFT', label: 'soft view' },
  { value: 'LINEAR', label: 'linear view' },
  { value: 'BANDS', label: 'light by stops' },
];

const SETTLED_MS = 50;

/** The picture that inputs make together. */
export function StackView({
  stack,
  frame,
  input,
  moving,
  picking,
  onPicked,
  onSteps,
  stamp,
}: {
  stack: Stack;
  frame: number;
  input: Input | undefined;
  moving: boolean;
  picking: Picking | undefined;
  onPicked: () => void;
  /** Hears the numbers under the pointer after each input. */
  onSteps: (steps: Map<string, number[]> | undefined) => void;
  stamp: string;
}) {
  const [shown, setShown] = useState<Shown>('result');
  const [split, setSplit] = useState(0.5);
  const [look, setLook] = useState({ view: 'STANDARD' as StackPicture['view'], stops: 0 });
  const [under, setUnder] = useState<{ x: number; y: number; after: number[] }>();
  const alone = shown === 'alone' || shown === 'upto';
  const show = shown === 'alone' ? 'INPUT' : shown === 'upto' ? 'UP_TO' : 'RESULT';
  const { made, rate } = useStackPicture(
    stack,
    frame,
    alone && input ? show : 'RESULT',
    alone && input ? input.id : null,
    look,
    stamp,
  );
  const before = useStackPicture(
    shown === 'before' ? stack : undefined,
    frame,
    'BEFORE',
    null,
    look,
    stamp,
  ).made;
  const play = usePlay(stack, frame);
  useKeys((e) => {
    const keys: Record<string, () => void> = {
      ' ': play.toggle,
      w: () => setShown(shown === 'before' ? 'result' : 'before'),
      a: () => setShown(shown === 'alone' ? 'result' : 'alone'),
      '-': () => setLook({ ...look, stops: Math.max(-10, look.stops - 0.5) }),
      '+': () => setLook({ ...look, stops: Math.min(10, look.stops + 0.5) }),
    };
    keys[e.key]?.();
    return e.key in keys;
  });

  const well = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setBox(e!.contentRect));
    watch.observe(well.current!);
    return () => watch.disconnect();
  }, []);
  const k = Math.min(box.width / stack.width, box.height / stack.height);
  const size = { width: Math.floor(stack.width * k), height: Math.floor(stack.height * k) };

  const asked = useRef<AbortController>(null);
  const wait = useRef<ReturnType<typeof setTimeout>>(undefined);
  const at = (e: PointerEvent) => {
    const b = e.currentTarget.getBoundingClientRect();
    return { x: (e.clientX - b.left) / b.width, y: (e.clientY - b.top) / b.height };
  };
  const leave = () => {
    clearTimeout(wait.current);
    asked.current?.abort();
    setUnder(undefined);
    onSteps(undefined);
  };
  const point = (e: PointerEvent) => {
    const p = at(e);
    const x = Math.max(0, Math.min(stack.width - 1, Math.floor(p.x * stack.width)));
    const y = Math.max(0, Math.min(stack.height - 1, Math.floor(p.y * stack.height)));
    clearTimeout(wait.current);
    wait.current = setTimeout(() => {
      asked.current?.abort();
      asked.current = new AbortController();
      stepsAt(stack, frame, x, y, asked.current.signal).then(
        (steps) => {
          onSteps(new Map(steps.map((s) => [s.id, s.own.length ? s.after : []])));
          setUnder({ x, y, after: steps.at(-1)?.after ?? [] });
        },
        () => undefined, // The picture says what is wrong.
      );
    }, SETTLED_MS);
  };
  useEffect(() => () => clearTimeout(wait.current), []);

  const word = (v: Shown, label: string, disabled = false) => (
    <button
      aria-pressed={shown === v}
      disabled={disabled}
      className={`min-h-6 whitespace-nowrap disabled:text-t3 ${shown === v ? 'font-semibold' : 'text-t2 hover:text-t1'}`}
      onClick={() => setShown(v)}
    >
      {label}
    </button>
  );
  const height =
    made && Math.round((made.most * stack.height) / Math.max(stack.width, stack.height));
  const width = made && Math.round((made.most * stack.width) / Math.max(stack.width, stack.height));
  return (
    <section aria-label="Picture" className="flex min-h-0 min-w-0 flex-col bg-well px-4.5">
      <header className="flex h-10 shrink-0 items-center gap-4">
        {word('result', 'Result')}
        {word('before', 'Before and after')}
        {word('alone', 'This input alone', !input)}
        {word('upto', 'Up to this input', !input)}
        <span className="fig ml-auto whitespace-nowrap text-t2" data-testid="made">
          {made && !made.error
            ? `${Math.min(width!, stack.width)} × ${Math.min(height!, stack.height)} · ${made.millis.toFixed(0)} ms`
            : ''}
        </span>
      </header>
      <div ref={well} className="grid min-h-0 flex-1 place-items-center overflow-hidden">
        <div className="relative bg-black" style={size}>
          {made?.url && (
            <img
              src={made.url}
              alt={`Frame ${frame}, put together`}
              data-testid="result"
              draggable={false}
              style={size}
              className="max-w-none"
            />
          )}
          {shown === 'before' && before?.url && (
            <div
              className="absolute inset-0"
              style={{ clipPath: `inset(0 ${100 * (1 - split)}% 0 0)` }}
            >
              <img
                src={before.url}
                alt="Before: the beauty as it was rendered"
                draggable={false}
                style={size}
                className="max-w-none"
              />
            </div>
          )}
          {made?.error && (
            <p role="alert" className="absolute inset-x-0 top-1/2 text-center">
              <span className="bg-well px-3 py-1">{made.error}</span>
            </p>
          )}
          <div
            className={`absolute inset-0 ${picking?.kind === 'object' ? 'cursor-crosshair' : ''}`}
            onPointerMove={point}
            onPointerLeave={leave}
            onPointerDown={(e) => {
              if (picking?.kind === 'object') {
                const p = at(e);
                picking.take(p.x, p.y);
              }
            }}
          >
            {picking?.kind === 'rectangle' && (
              <Rectangle
                part={undefined}
                label="Draw the shape"
                onDraw={(p) => {
                  picking.take([
                    [p.x, p.y],
                    [p.x + p.width, p.y + p.height],
                  ]);
                  onPicked();
                }}
              />
            )}
            {picking?.kind === 'polygon' && (
              <Corners
                onDone={(points) => {
                  picking.take(points);
                  onPicked();
                }}
              />
            )}
            {!picking && input && <Shape input={input} />}
          </div>
          {shown === 'before' && !picking && (
            <>
              <Splitter split={split} onSplit={setSplit} />
              <span className="fig pointer-events-none absolute bottom-2 left-2 bg-black/70 px-1.5 text-white">
                beauty
              </span>
              <span className="fig pointer-events-none absolute right-2 bottom-2 bg-black/70 px-1.5 text-white">
                assembled
              </span>
            </>
          )}
        </div>
      </div>
      <Words stack={stack} frame={frame} moving={moving || play.playing} />
      <footer className="flex h-12 shrink-0 items-center gap-5 text-t2">
        <button
          aria-label={play.playing ? 'Pause' : 'Play'}
          className="grid h-7 w-7 place-items-center rounded-full border-2 border-t1 text-t1"
          onClick={play.toggle}
        >
          <svg width="10" height="10" aria-hidden="true">
            {play.playing ? (
              <path d="M1 0h3v10H1zM6 0h3v10H6z" fill="currentColor" />
            ) : (
              <path d="M1 0l9 5-9 5z" fill="currentColor" />
            )}
          </svg>
        </button>
        <span className="fig whitespace-nowrap" data-testid="rate">
          {(play.playing || moving) && rate
            ? `${rate} of ${rateText(stack.rate)}`
            : rateText(stack.rate)}
        </span>
        {under && (
          <span className="fig truncate text-t1" data-testid="under">
            {under.x}, {under.y} · {under.after.map((v) => v.toFixed(4)).join(' ')}
          </span>
        )}
        <span className="flex-1" />
        <Choice
          label="View"
          value={look.view}
          options={VIEWS}
          onChange={(view) => setLook({ ...look, view })}
        />
        <span className="whitespace-nowrap">
          Exposure{' '}
          <button
            className="fig min-h-6 min-w-6"
            aria-label="Darker"
            onClick={() => setLook({ ...look, stops: Math.max(-10, look.stops - 0.5) })}
          >
            −
          </button>
          <b className="fig text-t1">{look.stops.toFixed(1)}</b>
          <button
            className="fig min-h-6 min-w-6"
            aria-label="Brighter"
            onClick={() => setLook({ ...look, stops: Math.min(10, look.stops + 0.5) })}
          >
            +
          </button>
        </span>
      </footer>
    </section>
  );
}

/** What somebody should know about the inputs at this frame. */
function Words({ stack, frame, moving }: { stack: Stack; frame: number; moving: boolean }) {
  const text = useSettled(JSON.stringify(stack), 500);
  const still = useSettled(frame, 500);
  const [asked, setAsked] = useState<{ text: string; stack: Stack }>({ text, stack });
  if (asked.text !== text) {
    setAsked({ text, stack: JSON.parse(text) as Stack });
  }
  const words = useWords(asked.stack, still);
  if (!words?.length || moving) {
    return null;
  }
  return (
    <ul
      aria-label="To know"
      className="max-h-24 shrink-0 overflow-auto border-t border-line py-1.5"
    >
      {words.map((w, i) => (
        <li key={i} className="flex gap-2">
          <svg width="10" height="10" className="mt-1.5 shrink-0" aria-hidden="true">
            <path d="M5 0l5 9H0z" fill="none" stroke="var(--t1)" />
          </svg>
          {w.text}
        </li>
      ))}
    </ul>
  );
}

/** Moves the playhead in real time; pictures that are not ready in time are left out. */
function usePlay(stack: Stack, frame: number) {
  const [playing, setPlaying] = useState(false);
  const [first, last] = ends(stack.frames);
  const latest = useRef(frame);
  useEffect(() => {
    latest.current = frame;
  });
  useEffect(() => {
    if (!playing) {
      return;
    }
    const begun = performance.now();
    const from = Math.max(first, Math.min(last, latest.current));
    let next = 0;
    const step = () => {
      const passed = Math.floor(((performance.now() - begun) / 1000) * stack.rate);
      const to = first + ((from - first + passed) % (last - first + 1));
      if (to !== latest.current) {
        playhead.to(to);
      }
      next = requestAnimationFrame(step);
    };
    next = requestAnimationFrame(step);
    return () => cancelAnimationFrame(next);
  }, [playing, first, last, stack.rate]);
  return { playing, toggle: () => setPlaying((p) => !p) };
}

const STEP = 0.02;

function Splitter({ split, onSplit }: { split: number; onSplit: (v: number) => void }) {
  const unit = (v: number) => Math.min(1, Math.max(0, v));
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Wipe between beauty and assembled"
      aria-valuenow={Math.round(100 * split)}
      className="absolute inset-y-0 w-6 -translate-x-1/2 cursor-ew-resize touch-none"
      style={{ left: `${100 * split}%` }}
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => {
        if (e.buttons > 0) {
          const b = e.currentTarget.parentElement!.getBoundingClientRect();
          onSplit(unit((e.clientX - b.left) / b.width));
        }
      }}
      onKeyDown={(e) => {
        const way = { ArrowLeft: -STEP, ArrowRight: STEP }[e.key];
        if (way) {
          e.preventDefault();
          e.stopPropagation();
          onSplit(unit(split + way));
        }
      }}
    >
      <i className="absolute inset-y-0 left-1/2 w-0.5 -translate-x-1/2 bg-white mix-blend-difference" />
    </div>
  );
}

/** The outline of a drawn mask. */
function Shape({ input }: { input: Input }) {
  const { kind, points } = input.mask;
  if (kind !== 'rectangle' && kind !== 'ellipse' && kind !== 'polygon') {
    return null;
  }
  const [a, b] = points as [number[], number[]];
  const stroke = {
    fill: 'none',
    stroke: 'var(--mark)',
    vectorEffect: 'non-scaling-stroke',
  } as const;
  return (
    <svg
      viewBox="0 0 1 1"
      preserveAspectRatio="none"
      className="pointer-events-none absolute inset-0 h-full w-full"
      aria-hidden="true"
    >
      {kind === 'polygon' && <polygon points={points.map((p) => p.join()).join(' ')} {...stroke} />}
      {kind === 'rectangle' && (
        <rect x={a[0]} y={a[1]} width={b[0]! - a[0]!} height={b[1]! - a[1]!} {...stroke} />
      )}
      {kind === 'ellipse' && (
        <ellipse
          cx={(a[0]! + b[0]!) / 2}
          cy={(a[1]! + b[1]!) / 2}
          rx={Math.abs(b[0]! - a[0]!) / 2}
          ry={Math.abs(b[1]! - a[1]!) / 2}
          {...stroke}
        />
      )}
    </svg>
  );
}

/** Corners that are pressed one after the other; Enter or a double click ends it. */
function Corners({ onDone }: { onDone: (points: number[][]) => void }) {
  const [points, setPoints] = useState<number[][]>([]);
  const end = () => {
    if (points.length >= 3) {
      onDone(points);
    }
  };
  useKeys((e) => {
    if (e.key === 'Enter') {
      end();
      return true;
    }
    return false;
  });
  return (
    <div
      role="img"
      aria-label="Press the corners of the shape, then Enter"
      className="h-full w-full cursor-crosshair"
      onClick={(e) => {
        const b = e.currentTarget.getBoundingClientRect();
        setPoints([...points, [(e.clientX - b.left) / b.width, (e.clientY - b.top) / b.height]]);
      }}
      onDoubleClick={end}
    >
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" className="h-full w-full">
        <polyline
          points={points.map((p) => p.join()).join(' ')}
          fill="none"
          stroke="var(--mark)"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
    </div>
  );
}
